"""Too many wrong passwords: the address they came from, and when the next one is accepted."""

import math
from typing import Any

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth.forms import AuthenticationForm
from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from .forms import styled

__all__ = ["address", "locked_out"]


def address(request: HttpRequest) -> str:
    """Return the address of a request, as the server in front gives it."""
    message = request.META.get("HTTP_X_REAL_IP", "") if settings.GOUGE_FRONTED else ""
    return str(message or request.META.get("REMOTE_ADDR") or "127.0.0.1")


def _minutes(request: HttpRequest) -> int:
    """Return after how many minutes, rounded up, passwords are checked again."""
    tried = AccessAttempt.objects.filter(
        Q(username=request.POST.get("username", "")) | Q(ip_address=address(request)),
    )
    last = tried.order_by("-attempt_time").values_list("attempt_time", flat=True).first() or timezone.now()
    left = last + settings.AXES_COOLOFF_TIME - timezone.now()
    return max(1, math.ceil(left.total_seconds() / 60))


def locked_out(request: HttpRequest, original: Any = None, credentials: Any = None, *args: Any) -> HttpResponse:
    """Answer someone who gave too many wrong passwords: when the next one is accepted."""
    minutes = _minutes(request)
    form = styled(AuthenticationForm(request))
    form.fields["username"].initial = request.POST.get("username", "")
    message = "Too many wrong passwords for this account, or from where you are."
    message += f" Try again in {minutes} minute{'' if minutes == 1 else 's'}."
    context = {"form": form, "refusal": message, "demo": settings.GOUGE_DEMO}
    answer = render(request, "registration/sign_in.html", context, status=429)
    answer["Retry-After"] = str(minutes * 60)
    return answer
