"""Limits on request bodies, checked by the headers before anything is read."""

import copy
from collections.abc import Callable
from typing import Any, Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import CsrfViewMiddleware
from django.views.decorators.csrf import csrf_exempt

from picture.photos.probe import MAX_BYTES

__all__ = ["FORMS", "OUTLINES", "PHOTO", "PROJECT", "Bodies", "body_check", "limit_of", "takes"]

FORMS: Final = settings.DATA_UPLOAD_MAX_MEMORY_SIZE
"""The default limit in bytes."""
PHOTO: Final = MAX_BYTES + 1_000_000
OUTLINES: Final = 200_000_000
PROJECT: Final = 2_000_000_000


def takes(most: int) -> Callable[[Callable], Callable]:
    """Set how many bytes a view accepts: it takes files, from signed-in people, with the token in a header."""

    def marked(view: Callable) -> Callable:
        view.takes = most  # type: ignore[attr-defined]
        return view

    return marked


def limit_of(view: Any) -> int:
    """Return how many bytes a view accepts."""
    return getattr(view, "takes", FORMS)


class Bodies:
    """Refuses a body before any of it is read or stored: one that is too large, or a stranger's.

    The token of a form with files must be in a header, because one in the body would be
    known only after the whole body.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Continue: the check needs the view."""
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: Any) -> HttpResponse | None:
        """Return the refusal, None to accept the body."""
        most = limit_of(view)
        try:
            size = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            size = 0
        if size > most:
            message = f"That has {size / 1e6:,.0f} MB; {most / 1e6:,.0f} MB is the most that is taken here."
            return JsonResponse({"error": message, "remedy": "Send something smaller."}, status=413)
        if most > FORMS and request.method == "POST":
            return refusal_by_headers(request, view)
        return None


def refusal_by_headers(request: HttpRequest, view: Any) -> HttpResponse | None:
    """Return why files of this request are refused, by its headers alone; None if they are accepted."""
    if not request.user.is_authenticated:
        return JsonResponse({"error": "You are signed out.", "remedy": "Sign in again."}, status=403)
    # for methods other than POST the token is looked for in the headers only
    head = copy.copy(request)
    head.method = "PUT"
    refusal = CsrfViewMiddleware(lambda _: HttpResponse()).process_view(head, view, (), {})
    if refusal is not None:
        return JsonResponse({"error": "This page is too old for that.", "remedy": "Reload it."}, status=403)
    return None


@csrf_exempt
def body_check(request: HttpRequest) -> HttpResponse:
    """Answer the server in front whether a body is accepted; it sends the headers alone."""
    return refusal_by_headers(request, None) or HttpResponse(status=204)
