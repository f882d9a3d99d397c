"""Examples: copies of three demo projects for someone without any, and the first job."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from picture import PictureError
from sheet import SheetError
from studio.library.examples import EXAMPLES

from . import ready
from .first_job import begin

__all__ = ["example", "first_job", "picture"]


@login_required
@require_POST
def example(request: HttpRequest, number: int) -> HttpResponse:
    """Start a copy of an example, with all its steps."""
    return redirect(ready.load_project(request.user, _name(number)))


@login_required
@require_POST
def first_job(request: HttpRequest) -> HttpResponse:
    """Start a sheet on which the main job is done once, step by step."""
    try:
        project = begin(request.user)
    except (PictureError, SheetError) as error:
        messages.error(request, str(error))
        return redirect("projects")
    return redirect(f"{project.get_absolute_url()}?first=1")


@require_GET
@cache_control(max_age=3600, public=True)
def picture(request: HttpRequest, number: int) -> HttpResponse:
    """Return the picture of an example."""
    data = (ready.PICTURES / f"{_name(number)}.png").read_bytes()
    return HttpResponse(data, content_type="image/png")


def _name(number: int) -> str:
    if number >= len(EXAMPLES):
        raise Http404
    return EXAMPLES[number]
