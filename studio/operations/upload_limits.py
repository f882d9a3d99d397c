"""How large a body may be: asked of its head, before any of it is read."""

import copy
from collections.abc import Callable
from typing import Any, Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import CsrfViewMiddleware
from django.views.decorators.csrf import csrf_exempt

from picture.photos.probe import MAX_BYTES

__all__ = ["FORMS", "OUTLINES", "PHOTO", "PROJECT", "Bodies", "door", "limit_of", "takes"]

FORMS: Final = settings.DATA_UPLOAD_MAX_MEMORY_SIZE
"""Bytes that a body may have where nothing else is said."""
PHOTO: Final = MAX_BYTES + 1_000_000
OUTLINES: Final = 200_000_000
PROJECT: Final = 2_000_000_000


def takes(most: int) -> Callable[[Callable], Callable]:
    """Say how many bytes a view takes: it takes files, from people who are signed in, with the token as a header."""

    def marked(view: Callable) -> Callable:
        view.takes = most  # type: ignore[attr-defined]
        return view

    return marked


def limit_of(view: Any) -> int:
    """Return how many bytes a view takes."""
    return getattr(view, "takes", FORMS)


class Bodies:
    """Refuses a body before any of it is read or kept: one that is too large, or a stranger's.

    The token of a form with files comes as a header, since one in the body would be
    known only once all of the body had been taken.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Go on: what there is to do is done once the view is known."""
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: Any) -> HttpResponse | None:
        """Return the refusal, None where the body may come."""
        most = limit_of(view)
        try:
            size = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            size = 0
        if size > most:
            message = f"That has {size / 1e6:,.0f} MB; {most / 1e6:,.0f} MB is the most that is taken here."
            return JsonResponse({"error": message, "remedy": "Send something smaller."}, status=413)
        if most > FORMS and request.method == "POST":
            return refused_at_the_door(request, view)
        return None


def refused_at_the_door(request: HttpRequest, view: Any) -> HttpResponse | None:
    """Return why files of this request are not taken, by its headers alone; None where they are."""
    if not request.user.is_authenticated:
        return JsonResponse({"error": "You are signed out.", "remedy": "Sign in again."}, status=403)
    # what is no POST has its token looked for among the headers only
    head = copy.copy(request)
    head.method = "PUT"
    refusal = CsrfViewMiddleware(lambda _: HttpResponse()).process_view(head, view, (), {})
    if refusal is not None:
        return JsonResponse({"error": "This page is too old for that.", "remedy": "Reload it."}, status=403)
    return None


@csrf_exempt
def door(request: HttpRequest) -> HttpResponse:
    """Tell the server in front whether a body may come; it asks with the headers alone."""
    return refused_at_the_door(request, None) or HttpResponse(status=204)
