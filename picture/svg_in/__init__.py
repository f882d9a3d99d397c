"""SVG files read as pieces, groups and frames."""
