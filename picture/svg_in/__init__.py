"""SVG files read as pieces, groups and frames."""

__all__ = [
    "clips",
    "css",
    "filters",
    "gradients",
    "masks",
    "paint",
    "parts",
    "pictures",
    "plain",
    "read",
    "shapes",
    "styles",
    "text",
]
