"""SVG files read as pieces, groups and frames."""

__all__ = [
    "boxes",
    "clips",
    "css",
    "effort",
    "elements",
    "filters",
    "gradients",
    "masks",
    "paint",
    "parts",
    "pictures",
    "plain",
    "read",
    "shapes",
    "shown",
    "styles",
    "text",
]
