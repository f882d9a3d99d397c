"""Clip paths of an SVG (CSS Masking 1, 5 and 6) as outlines in sheet px."""

from collections.abc import Callable, Mapping
from typing import Final
from xml.etree.ElementTree import Element

import outline
from outline import Matrix, OutlineError, Path
from picture.errors import PictureError
from sheet.geometry.geometry import Box, own_path

from .css import absolute, address_of, name_of, transform, url_of
from .elements import start_of
from .shapes import SHAPES, outlines_of
from .styles import Styles
from .text import runs_of

__all__ = ["Clips"]

MAX_DEPTH: Final = 5
"""How deep clip paths may clip each other."""
MAX_PARTS: Final = 10_000
_SILENT: Final = ("title", "desc", "metadata", "animate", "animateTransform", "set", "")

Style = dict[str, str]
Viewport = tuple[float, float]
"""The size (px) that per cent refer to."""


class Clips:
    """The clip paths of a file; `linked` resolves an address, `report` receives what is not understood."""

    def __init__(
        self,
        styles: Styles,
        fonts: Mapping[str, str],
        linked: Callable[[str], Element | None],
        report: Callable[[str], None],
    ):
        self._styles, self._fonts, self._linked, self._report = styles, fonts, linked, report
        self._parts = 0
        self._found: dict[tuple[str, Matrix, Viewport, Box | None], tuple[Path, ...] | None] = {}
        """What clips something, by what it depends on: it often clips thousands."""

    def named(
        self, text: str, matrix: Matrix, viewport: Viewport, box: Callable[[], Box | None], depth: int = 0
    ) -> tuple[Path, ...] | None:
        """Return all outlines that clip something; None if nothing of it is left.

        `box` returns its own box, for clip paths measured in it. Raises PictureError for far too many.
        """
        if not text or text == "none":
            return ()
        if depth > MAX_DEPTH:
            self._report("clip-path")
            return ()
        target = self._linked(url_of(text)[0])
        if target is None or name_of(target) != "clipPath":
            self._report("clip-path")
            return ()
        across = target.get("clipPathUnits") == "objectBoundingBox"
        key = (text, matrix, viewport, box() if across else None)
        if key not in self._found:
            self._found[key] = self._of(target, *key[1:], depth)
        return self._found[key]

    def _of(
        self, target: Element, matrix: Matrix, viewport: Viewport, found: Box | None, depth: int
    ) -> tuple[Path, ...] | None:
        own, its = self._styles.styled(target, self._styles.around(target))
        at = matrix @ transform(own.get("transform"))
        inner = at
        if target.get("clipPathUnits") == "objectBoundingBox":
            if found is None:
                self._report("clip-path")
                return ()
            x0, y0, x1, y1 = found
            inner, viewport = at @ Matrix.move(x0, y0) @ Matrix.resize(x1 - x0, y1 - y0), (1.0, 1.0)
        paths = [p for child in target for p in self._paths(child, inner, its, viewport, depth)]
        further = self.named(own.get("clip-path", ""), at, viewport, lambda: None, depth + 1)
        if not paths or further is None:
            return None
        return (paths[0] if len(paths) == 1 else outline.union(paths), *further)

    def _paths(self, child: Element, matrix: Matrix, style: Style, viewport: Viewport, depth: int) -> list[Path]:
        """Return the outlines of one child of a clip path."""
        name = name_of(child)
        if name in _SILENT:
            return []
        self._parts += 1
        if self._parts > MAX_PARTS:
            raise PictureError("The clip paths of that SVG have far too many parts.", "Simplify it where it was made.")
        own, its = self._styles.styled(child, style)
        if own.get("display") == "none" or its["visibility"] in ("hidden", "collapse"):
            return []
        absolute(own, its, viewport)
        at = matrix @ transform(own.get("transform"))
        paths: list[Path] = []
        if name in SHAPES:
            try:
                paths = outlines_of(name, own, its["clip-rule"], at, self._report)
            except OutlineError:
                self._report(f"{name} that cannot be read")
                return []
        elif name == "text":
            runs = runs_of(child, own, its, self._styles, self._fonts, self._report)
            paths = [own_path(run.shape).transform(at @ Matrix.move(run.x, run.y)) for run in runs]
        else:
            address = address_of(child)
            target = self._linked(address) if name == "use" else None
            if target is None or name_of(target) not in (*SHAPES, "text"):
                self._report("clip-path")
                return []
            paths = self._paths(target, at @ start_of(own), its, viewport, depth + 1)
        paths = [p for p in paths if not p.is_empty]
        if paths and "clip-path" in own:
            further = self.named(own["clip-path"], at, viewport, lambda: None, depth + 1)
            return [outline.intersect([outline.union(paths), *further])] if further is not None else []
        return paths
