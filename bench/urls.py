"""The app's addresses, and two empty views."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.urls import include, path


def empty(request: HttpRequest) -> HttpResponse:
    """Answer, no more."""
    return HttpResponse("ok")


urlpatterns = [
    path("", include("config.urls")),
    path("bench/empty", empty),
    path("bench/known", login_required(empty)),
]
