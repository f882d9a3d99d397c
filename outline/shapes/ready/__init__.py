"""Ready outlines for frames, drawn here by our own code, in categories that can be searched."""

from . import basic, cards, ornaments, plants
from .registry import READY, Ready, ready

__all__ = ["READY", "Ready", "basic", "cards", "ornaments", "plants", "ready"]
