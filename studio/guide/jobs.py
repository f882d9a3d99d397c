"""The jobs of the guide, each in at most ten steps. *Stars* mark labels on the screen, [brackets]
keys; a test holds both against the app."""

import re
from dataclasses import dataclass
from typing import Final

from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

__all__ = ["JOBS", "GuideJob", "marked"]


@dataclass(frozen=True, slots=True)
class GuideJob:
    """A job: its key, its title, and its steps."""

    key: str
    title: str
    steps: tuple[str, ...]


JOBS: Final = (
    GuideJob(
        "shape",
        "A photo in a shape",
        (
            "*Bring photos in* [B], or drop a file on the sheet.",
            "Draw a shape over it: *Ellipse* [E], *Rectangle* [R], *Star* [A], or one of the *Shapes* [Y]. "
            "You see the photo through it.",
            "Press [P]: the photo is in the shape.",
            "Drag the frame to move it. To move the photo inside it, press [Enter] or *Move the photo*; [Esc] "
            "steps out.",
            "*Fill the frame* makes the photo just large enough again.",
        ),
    ),
    GuideJob(
        "margins",
        "A hole with even margins",
        (
            "Draw a *Rectangle* [R], and a second shape on top of it.",
            "Select both and press [S]: the upper one is cut out of the lower one.",
            "At Cut, open *Size and place*. *Margins* shows how far the hole is from each side.",
            "Press *Make margins equal*, or type a margin of its own.",
        ),
    ),
    GuideJob(
        "lettering",
        "Lettering as a frame",
        (
            "Take *Lettering* [L] and click the sheet. Type the word, choose a font and size, then *Place text*.",
            "Put it over a photo, and press [P]: the photo shows in the letters.",
            "The word stays text: change it, its font or its size at any time.",
        ),
    ),
    GuideJob(
        "out",
        "A subject that stands out",
        (
            "Select the photo and press [Shift] [S]: drag a box around the subject, and *Accept* [Enter].",
            "Draw the card over the photo: the subject’s upper part is outside of it.",
            "Select the silhouette and the card, and press [U]: they are one outline.",
            "Press [P]: the photo goes in, and the subject stands out of the card.",
        ),
    ),
    GuideJob(
        "panes",
        "Nine panes of one photo",
        (
            "Select a frame with its photo, and go to Fit [3].",
            "Open *Split into panes*, set three columns and three rows, and the gap.",
            "*Split up*: nine frames share one photo.",
            "Drag one pane, or change the gap again; *Undo the split* makes it one frame.",
        ),
    ),
    GuideJob(
        "zigzag",
        "A zigzag edge through a photo",
        (
            "Take *Edge run* [Z], and drag a line across the frame.",
            "Select the frame and the line.",
            "Press [D]: the line divides the frame into two, each with its part of the photo.",
            "Drag one aside. *Dragging moves* says whether its photo moves too.",
        ),
    ),
    GuideJob(
        "parts",
        "Colours part by part",
        (
            "Lay two or more pieces over one another and select them.",
            "Press *Part by part* [J]. Drag across parts to join them; with [A] to take them away, with [L] to "
            "lift them out.",
            "*Accept* [Enter].",
            "Select a part, and give it a fill at Finish [4].",
        ),
    ),
    GuideJob(
        "again",
        "A frame for next time",
        (
            "Select the outline or the frame, and press *Add to shelf* [Shift] [K].",
            "In any project it is among the *Shapes* [Y], under *The shelf*. Drag to draw it; in another proportion "
            "it is refitted.",
            "Press [P] to put the photo in.",
        ),
    ),
    GuideJob(
        "refit",
        "Another proportion",
        (
            "Select a frame, an outline or a group, and press [Shift] [R].",
            "Drag an ochre handle, press a proportion such as 1:1, or type a size.",
            "A pin shows how each part is anchored: click it to anchor the part differently.",
            "*Accept* [Enter]. Borders, teeth, margins and lettering keep their sizes; what had to be stretched was "
            "marked in ochre.",
        ),
    ),
    GuideJob(
        "hundred",
        "A hundred photos in one frame",
        (
            "Select the frame. At Export [5], press *Same frame, many photos*.",
            "Drop the photos, or a folder, on the page.",
            "Choose a *Photo position*; click a photo to move or enlarge it.",
            "Set the format and the file name, and export: the files come as one zip.",
        ),
    ),
    GuideJob(
        "web",
        "An outline for the web",
        (
            "Select the outline, and go to Export [5].",
            "Open *Outline for the web*, and choose what you need: path data, a CSS clip path, or an SVG clip path.",
            "Copy it, or see it on a page of its own.",
        ),
    ),
    GuideJob(
        "artwork",
        "Artwork from an SVG",
        (
            "Drop the SVG on the sheet, or *Bring photos in* [B] and choose it.",
            "It comes in as pieces that you can edit. A notice lists what could not be read.",
            "Select what is to be the frame. Several pieces become one with [U], or *Combine uncut*.",
            "Press [P] to put a photo in.",
        ),
    ),
)


def marked(text: str) -> SafeString:
    """Return a step as HTML: labels strong, keys as keys."""
    html = re.sub(r"\*([^*]+)\*", r"<strong>\1</strong>", escape(text))
    return mark_safe(re.sub(r"\[([^\]]+)\]", r"<kbd>\1</kbd>", html))
