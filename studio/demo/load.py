"""Loading the demo: an account with prepared photos, projects and outlines, and a batch."""

from collections.abc import Callable
from typing import Any

from django.contrib.auth import get_user_model

from studio.accounts.views import DEMO_NAME

from ..models import Project
from . import ready
from .batch import load_batch

__all__ = ["load_demo"]


def load_demo(say: Callable[[str], Any] = print) -> None:
    """Make the demo account with its contents, unless it has projects already."""
    users = get_user_model().objects
    owner = users.filter(username=DEMO_NAME).first() or users.create_user(DEMO_NAME)
    if Project.objects.filter(owner=owner).exists():
        return
    say("loading the demo")
    ready.load(owner)
    load_batch(owner)
