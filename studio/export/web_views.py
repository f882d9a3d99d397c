"""A page that shows an outline for the web in use."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from picture.write.web import WEB, web_outline
from sheet import SheetError
from sheet.document.tree import find
from studio.http import own_project, refusal, refused

__all__ = ["sample"]


@login_required
@require_GET
def sample(request: HttpRequest, pk: int) -> HttpResponse:
    """Show a box clipped by the outline of item `id`, which can be resized."""
    project = own_project(request, pk)
    kind = request.GET.get("kind", "path")
    if kind not in dict(WEB) or kind == "data":
        return refusal("That form has no preview.", "Choose a CSS or SVG form.", status=400)
    try:
        item = find(project.head.sheet, request.GET.get("id", ""))
        text, width, height = web_outline(project.head.sheet, item, kind, request.GET.get("deviation", "0.5"))  # type: ignore[arg-type]
    except SheetError as error:
        return refused(error)
    style = f"clip-path: url(#{item.id});" if kind == "clip" else text
    context = {
        "name": item.name,
        "style": style,
        "clip": text if kind == "clip" else "",
        "width": f"{width:.2f}",
        "height": f"{height:.2f}",
        "scales": kind != "path",
    }
    response = render(request, "studio/web_sample.html", context)
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'"
    return response
