"""Ready outlines for frames, drawn by our own code, in categories and searchable."""

from . import basic, cards, ornaments, plants
from .registry import READY, Ready, ready

__all__ = ["READY", "Ready", "basic", "cards", "ornaments", "plants", "ready"]
