"""The guide's page and its pictures, open without an account."""

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET

from .jobs import JOBS, marked
from .pictures import PICTURES, drawn
from .reference import reference

__all__ = ["all_of_it", "page", "picture"]


@require_GET
def page(request: HttpRequest) -> HttpResponse:
    """Show all jobs."""
    jobs = [
        {
            "key": job.key,
            "title": job.title,
            "steps": [marked(step) for step in job.steps],
            "pictures": list(enumerate(PICTURES[job.key][1])) if job.key in PICTURES else [],
        }
        for job in JOBS
    ]
    return render(request, "studio/guide.html", {"jobs": jobs})


@require_GET
def all_of_it(request: HttpRequest) -> HttpResponse:
    """Show the reference."""
    return render(request, "studio/reference.html", {"text": reference()})


@require_GET
@cache_control(max_age=3600, public=True)
def picture(request: HttpRequest, key: str, step: int) -> HttpResponse:
    """Return a picture of a job, before or after."""
    if key not in PICTURES or step not in (0, 1):
        raise Http404
    return HttpResponse(drawn(key, step), content_type="image/svg+xml")
