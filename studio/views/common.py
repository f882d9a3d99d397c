"""What several views need."""

from django.http import HttpRequest, JsonResponse
from django.shortcuts import get_object_or_404

from ..models import Project

__all__ = ["own_project", "refusal"]


def own_project(request: HttpRequest, pk: int, deleted: bool = False) -> Project:
    """Return the person's own project with its head, or answer 404."""
    projects = Project.objects.select_related("head").filter(owner=request.user, deleted__isnull=not deleted)
    project: Project = get_object_or_404(projects, pk=pk)
    return project


def refusal(message: str, remedy: str = "", field: str = "", status: int = 422) -> JsonResponse:
    """Return the answer to something that cannot be done: why, what to do, and the field that is wrong."""
    return JsonResponse({"error": message, "remedy": remedy, "field": field}, status=status)
