"""The health address: whether the app answers, and how much of its engine is compiled."""

from django.db import DatabaseError, connection
from django.http import HttpRequest, JsonResponse
from django.views.decorators.http import require_GET

from outline.path.kernel import compiled, warming

__all__ = ["health"]


@require_GET
def health(request: HttpRequest) -> JsonResponse:
    """Answer 200 if the database answers, else 503; with the engine's state and the per cent compiled."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        well = True
    except DatabaseError:
        well = False
    state = {"ok": well, "engine": "compiled" if compiled() else "interpreted", "warming": warming()}
    return JsonResponse(state, status=200 if well else 503)
