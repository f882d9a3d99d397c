"""The headers of every response, and the responses when the server is busy or full, or the engine fails."""

import logging
from collections.abc import Callable
from pathlib import Path
from urllib.parse import quote

from django.conf import settings
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.gzip import GZipMiddleware
from django.template.loader import render_to_string

from outline import OutlineError
from sheet.document.errors import sentence
from studio.accounts.hashing import Crowded
from studio.storage import FULL, is_full

__all__ = ["Compressed", "response_to", "busy", "busy_response", "cache_control", "files_by_front", "is_busy"]

log = logging.getLogger(__name__)

NOTHING = "camera=(), geolocation=(), microphone=(), payment=(), usb=()"
"""Browser features that no page uses (W3C, Permissions Policy)."""

Respond = Callable[[HttpRequest], HttpResponse]


class Compressed(GZipMiddleware):
    """Compresses text; pictures and zips are compressed already."""

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        """Return the response, compressed if that is worthwhile."""
        kind = response.headers.get("Content-Type", "").split(";")[0]
        if not kind.startswith("text/") and kind not in ("application/json", "image/svg+xml"):
            return response
        return super().process_response(request, response)


def files_by_front(get_response: Respond) -> Respond:
    """Let the server in front, if there is one, send the storage's files (X-Accel-Redirect)."""
    media = Path(settings.MEDIA_ROOT).absolute()

    def respond(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        file = Path(str(getattr(getattr(response, "file_to_stream", None), "name", None) or ""))
        if not settings.GOUGE_FRONTED or not file.is_relative_to(media):
            return response
        given = HttpResponse(headers={k: v for k, v in response.headers.items() if k != "Content-Length"})
        given.cookies = response.cookies
        given["X-Accel-Redirect"] = quote(f"/-files/{file.relative_to(media)}")
        response.close()
        return given

    return respond


def cache_control(get_response: Respond) -> Respond:
    """Keep personal pages out of every cache, unless a view says otherwise."""

    def respond(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        response.headers.setdefault("Cache-Control", "private, no-store")
        response.headers.setdefault("Permissions-Policy", NOTHING)
        return response

    return respond


def is_busy(error: BaseException | None) -> bool:
    """Return whether an exception means that the database, or the hashing of passwords, is busy."""
    locked = isinstance(error, OperationalError) and ("locked" in str(error) or "busy" in str(error))
    return locked or isinstance(error, Crowded)


def response_to(request: HttpRequest, error: BaseException | None) -> HttpResponse | None:
    """Return the response to an error that is not the code's; None for any other."""
    if is_busy(error):
        return busy_response(request, error)
    if isinstance(error, OutlineError):
        return JsonResponse({"error": sentence(error), "remedy": ""}, status=422)
    if not is_full(error):
        return None
    log.error("nothing can be written: %s", error)
    if request.accepts("text/html") and not (request.content_type or "").endswith("json"):
        return HttpResponse(render_to_string("full.html", {"message": FULL[0], "remedy": FULL[1]}), status=507)
    return JsonResponse({"error": FULL[0], "remedy": FULL[1]}, status=507)


def busy(get_response: Respond) -> Respond:
    """Return 503 with Retry-After if the database or the hashing is busy; scripts retry, pages reload."""

    def respond(request: HttpRequest) -> HttpResponse:
        return get_response(request)

    def process_exception(request: HttpRequest, error: Exception) -> HttpResponse | None:
        return response_to(request, error)

    respond.process_exception = process_exception  # type: ignore[attr-defined]
    return respond


def busy_response(request: HttpRequest, error: BaseException | None = None) -> HttpResponse:
    """Return 503 with Retry-After: a page that reloads itself, or JSON."""
    # a password is typed again rather than written into a page
    secret = isinstance(error, Crowded) or bool(getattr(request, "sensitive_post_parameters", None))
    if request.accepts("text/html") and not (request.content_type or "").endswith("json"):
        again = request.method == "GET" or (not request.FILES and not secret)
        fields = [(k, v) for k, values in request.POST.lists() for v in values] if again else []
        context = {"again": again, "fields": fields, "method": request.method, "at": request.get_full_path()}
        answer = HttpResponse(render_to_string("busy.html", context), status=503)
    else:
        body = {"error": "The server is busy.", "remedy": "Nothing was changed; try again.", "busy": True}
        answer = JsonResponse(body, status=503)
    answer["Retry-After"] = "2"
    return answer
