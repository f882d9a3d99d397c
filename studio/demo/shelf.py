"""The demo's shelf: four frames, each with its variants."""

from typing import Any

from studio.library import shelf

from .table import Table

__all__ = ["make_shelf"]


def _porthole_card(owner: Any) -> None:
    """A card with a porthole, a flourish over it and lettering in its corner."""
    t = Table("1800", "1200")
    card = t.draw("rectangle", 100, 140, 1500, 960, "Card", details={"radius": "60"})
    crest = t.draw("ready", 690, 40, 320, 170, "Crest", ready="flourish-crest")
    hole = t.draw("ellipse", 1270, 200, 240, 240, "Porthole")
    word = t.do("draw_lettering", text="MARRAM COAST", font="league-gothic", size="120", x=170, y=1030)
    t.do("rename", id=word, name="Marram Coast")
    outline = t.do("combine", ids=[card, crest], operation="union")
    outline = t.do("combine", ids=[outline, hole], operation="subtract")
    outline = t.do("combine", ids=[outline, word], operation="subtract")
    t.paint(outline, fill="#2b7a72", stroke="#22302f", stroke_width="8")
    one, _ = shelf.add(owner, t.sheet, outline, "Porthole card", "booklet lettering crest")
    shelf.make_variants(one)


def _scalloped_window(owner: Any) -> None:
    """A window with a scalloped edge, its teeth whole at any size."""
    t = Table("1600", "1200")
    edge = t.draw("rectangle", 100, 100, 1320, 960, "Edge")
    edge = t.do("draw_edge", id=edge, kind="scallop", pitch=60)
    pane = t.draw("rectangle", 220, 220, 1080, 720, "Pane", details={"radius": "40"})
    outline = t.do("combine", ids=[edge, pane], operation="subtract")
    t.paint(outline, fill="#b5432a")
    one, _ = shelf.add(owner, t.sheet, outline, "Scalloped window", "border edge")
    shelf.make_variants(one)


def _tide_panes(owner: Any) -> None:
    """Six panes with a gap between, as a group that stays panes."""
    t = Table("1600", "1200")
    wall = t.draw("rectangle", 100, 100, 1350, 900, "Wall", details={"radius": "80"})
    panes = t.do("split", ids=[wall], columns="3", rows="2", gap_x="30", gap_y="30")
    for item in t.sheet.items:
        for inner in getattr(item, "items", ()):
            t.paint(inner.id, fill="#c9bda4")
    one, _ = shelf.add(owner, t.sheet, panes, "Tide panes", "window grid")
    shelf.make_variants(one)


def _luggage_label(owner: Any) -> None:
    """A scalloped card trimmed to its left half, with a plain one in place of the other, a hole and lettering."""
    t = Table("1800", "1200")
    card = t.draw("ready", 100, 100, 960, 665, "Card", ready="scallop-card")
    trim = t.draw("rectangle", 580, 60, 560, 760, "Trim")
    outline = t.do("combine", ids=[card, trim], operation="subtract")
    plate = t.draw("rectangle", 580, 150, 680, 560, "Plate", details={"radius": "24"})
    outline = t.do("combine", ids=[outline, plate], operation="union")
    hole = t.draw("ellipse", 1120, 200, 80, 80, "Hole")
    outline = t.do("combine", ids=[outline, hole], operation="subtract")
    word = t.do("draw_lettering", text="FERRY", font="league-gothic", size="150", x=680, y=600)
    t.do("rename", id=word, name="Ferry")
    outline = t.do("combine", ids=[outline, word], operation="subtract")
    t.paint(outline, fill="#22302f")
    one, _ = shelf.add(owner, t.sheet, outline, "Luggage label", "tag scallop lettering")
    shelf.make_variants(one)


def make_shelf(owner: Any) -> None:
    """Keep the four frames of the demo."""
    _luggage_label(owner)
    _tide_panes(owner)
    _scalloped_window(owner)
    _porthole_card(owner)
