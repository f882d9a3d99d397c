"""The path as a value, reading and writing it, and how kernels are compiled."""

from .builder import Builder
from .errors import Certificate, MapError, OutlineError, PathError
from .matrix import IDENTITY, Matrix
from .path import FILL_RULES, Path

__all__ = [
    "Certificate",
    "OutlineError",
    "PathError",
    "MapError",
    "Matrix",
    "IDENTITY",
    "Builder",
    "Path",
    "FILL_RULES",
]
