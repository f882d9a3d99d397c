"""The numbers of a shape besides its place and size: what a person can read and set at any time."""

from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

import outline

from . import geometry
from .errors import SheetError
from .lengths import parse, parse_length, show_length
from .model import EdgeRun, Freehand, Lettering, Plain, Polygon, Rectangle, Shape, Sheet, Star

__all__ = ["Detail", "details_of", "set_detail", "NAMES"]

CORNERS = ("top left", "top right", "bottom right", "bottom left")


@dataclass(frozen=True, slots=True)
class Detail:
    """One number, choice or switch of a shape: its field, what it is called, and how it is typed.

    `kind` is length, count, percent, degrees, thousandths, ems, choice, text or switch.
    """

    field: str
    name: str
    kind: str
    low: float = 0.0
    high: float = 1e6
    choices: tuple[str, ...] = ()
    short: str = ""


_BY_SHAPE: dict[type, tuple[Detail, ...]] = {
    Rectangle: (
        Detail("radius", "Corner radius", "length", short="Corners"),
        # as they lie: the upper two, then the lower two
        *(Detail(f"radius{k}", f"Radius {CORNERS[k]}", "length", short="↖↗↘↙"[k]) for k in (0, 1, 3, 2)),
    ),
    Polygon: (Detail("sides", "Sides", "count", 3, 60), Detail("radius", "Corner radius", "length", short="Corners")),
    Star: (
        Detail("points", "Points", "count", 3, 60),
        Detail("inner", "Inner radius", "percent", 5, 95, short="Inner"),
        Detail("tip", "Tip radius", "length", short="Tips"),
        Detail("valley", "Valley radius", "length", short="Valleys"),
    ),
    Freehand: (
        Detail("tolerance", "Nearness to the hand", "length", 0.01, 1e4, short="Near"),
        Detail("closed", "Closed", "switch"),
    ),
    Lettering: (
        Detail("text", "Text", "text"),
        Detail("font", "Font", "choice", choices=tuple(outline.FONTS)),
        Detail("size", "Letter size", "length", 0.1, 1e5, short="Size"),
        Detail("tracking", "Tracking, thousandths of the size", "thousandths", -500, 5000, short="Tracking"),
        Detail("leading", "Line spacing, in sizes", "ems", 0.1, 10, short="Lines"),
        Detail("align", "Alignment", "choice", choices=outline.ALIGNMENTS, short="Align"),
    ),
    Plain: (Detail("fill_rule", "Fill rule", "choice", choices=outline.path.FILL_RULES),),
    EdgeRun: (
        Detail("kind", "Edge", "choice", choices=outline.EDGES),
        Detail("pitch", "Tooth length", "length", 0.01, 1e5, short="Tooth"),
        Detail("flank", "Flank angle", "degrees", 5, 85, short="Flank"),
        Detail("depth", "Depth", "length", 0.01, 1e5, short="Depth"),
        Detail("seed", "Seed", "count", 0, 9999),
        Detail("inward", "Inwards", "switch"),
    ),
}

NAMES = {
    "rectangle": "Rectangle",
    "ellipse": "Ellipse",
    "polygon": "Polygon",
    "star": "Star",
    "freehand": "Freehand",
    "lettering": "Lettering",
    "edge": "Edge run",
}


def details_of(sheet: Sheet, shape: Shape) -> list[tuple[Detail, str]]:
    """Return what can be set of a shape, each with its value as text in the sheet's unit."""
    rows = []
    for detail in _BY_SHAPE.get(type(shape), ()):
        if isinstance(shape, EdgeRun):
            needless = {"zigzag": "depth", "torn": "flank"}.get(shape.kind, "flank")
            if detail.field == needless or (detail.field == "seed" and shape.kind != "torn"):
                continue
        rows.append((detail, _shown(sheet, shape, detail)))
    return rows


def _value(shape: Shape, field: str) -> Any:
    if isinstance(shape, Rectangle) and field.startswith("radius"):
        return shape.radii[int(field[6:])] if field != "radius" else shape.radii
    return getattr(shape, field)


def _shown(sheet: Sheet, shape: Shape, detail: Detail) -> str:
    value = _value(shape, detail.field)
    if isinstance(value, tuple):
        return show_length(value[0], sheet.unit, sheet.resolution) if len(set(value)) == 1 else "mixed"
    if value is None:
        assert isinstance(shape, EdgeRun)
        value = _depth(shape)
    if detail.kind == "length":
        return show_length(value, sheet.unit, sheet.resolution)
    if detail.kind == "percent":
        return f"{100 * value:g} %"
    if detail.kind == "degrees":
        return f"{value:g}°"
    if detail.kind == "switch":
        return "yes" if value else ""
    return value if isinstance(value, str) else f"{value:g}"


def _depth(shape: EdgeRun) -> float:
    """Return the depth that suits the pitch: that of one tooth laid along a straight line."""
    line = outline.Path.from_svg(f"M0 0H{shape.pitch!r}")
    box = outline.edge_run(line, shape.kind, shape.pitch, seed=shape.seed).bounds
    height = box[3] - box[1] if box else 0.0
    return {"wave": height / 2, "torn": shape.pitch / 2}.get(shape.kind, height)


def _read(sheet: Sheet, detail: Detail, text: str) -> Any:
    if detail.kind == "text":
        words = text.replace("\r\n", "\n").replace("\r", "\n")
        if not words.strip():
            raise SheetError("A lettering needs a letter at least.", "Type a text, or remove the piece.", detail.field)
        if len(words) > 500:
            raise SheetError("A lettering has 500 letters at most.", "Use several pieces.", detail.field)
        return words
    if detail.kind == "choice":
        if text not in detail.choices:
            raise SheetError(
                f"“{text[:30]}” is no {detail.name.lower()}.", f"Use {', '.join(detail.choices)}.", detail.field
            )
        return text
    if detail.kind == "switch":
        return text.strip().lower() in ("yes", "true", "on", "1")
    name = detail.name.split(",")[0].lower()
    if detail.kind == "length":
        value = parse_length(text, name, unit=sheet.unit, resolution=sheet.resolution)
    else:
        value = parse(text.replace("°", "").replace("%", ""), name)
    low, high = detail.low, detail.high
    if not low <= value <= high:
        if detail.kind == "length":
            least = show_length(low, sheet.unit, sheet.resolution)
            raise SheetError(
                f"The {name} must be {least} or more." if value < low else f"The {name} is too large.",
                "Type another number.",
                detail.field,
            )
        raise SheetError(
            f"The {name} must be from {low:g} to {high:g}, not {value:g}.", "Type a number between.", detail.field
        )
    if detail.kind == "count":
        if value != round(value):
            raise SheetError(f"The {name} must be a whole number.", f"Type {round(value)}, for example.", detail.field)
        return round(value)
    return value / 100 if detail.kind == "percent" else value


def set_detail(sheet: Sheet, shape: Shape, field: str, text: str) -> tuple[Shape, str]:
    """Return the shape with one detail set, and what to tell about it: a radius too large is held at what fits.

    Raises SheetError naming the field where the shape has none such or the value is none.
    """
    detail = next((d for d in _BY_SHAPE.get(type(shape), ()) if d.field == field), None)
    if detail is None:
        raise SheetError(f"This piece has no {field[:20]}.", "Choose a piece that has.", field)
    value = _read(sheet, detail, text)
    made: Shape
    if isinstance(shape, Rectangle):
        made, value = _cornered(shape, field, value)
    else:
        made = replace(shape, **{field: value})
    held: float | None = None
    if field in ("radius", "tip", "valley") and isinstance(shape, Polygon | Star):
        sharp = replace(shape, **({"radius": 0.0} if isinstance(shape, Polygon) else {"tip": 0.0, "valley": 0.0}))
        which = None
        if isinstance(shape, Star):
            which = list(range(0 if field == "tip" else 1, 2 * shape.points, 2))
        most = outline.largest_radius(geometry.own_path(sharp), which)
        if value > most:
            held, made = most, replace(shape, **{field: most})
    elif isinstance(shape, Rectangle):
        wanted = _read(sheet, detail, text)
        held = value if wanted > value + 1e-9 else None
    if held is None:
        return made, ""
    shown = show_length(held, sheet.unit, sheet.resolution, 2)
    return made, f"The radius is held at {shown} {sheet.unit}, the largest that fits."


def _cornered(shape: Rectangle, field: str, value: float) -> tuple[Rectangle, float]:
    """Return the rectangle with one radius, or all, as large as fits, and that radius."""
    w, h = shape.width, shape.height
    if field == "radius":
        value = min(value, w / 2, h / 2)
        return replace(shape, radii=(value,) * 4), value
    k = int(field[6:])
    radii = list(shape.radii)
    # the neighbours along the horizontal and the vertical side
    across, down = radii[k ^ 1], radii[3 - k]
    value = max(0.0, min(value, w - across, h - down))
    radii[k] = value
    return replace(shape, radii=(radii[0], radii[1], radii[2], radii[3])), value
