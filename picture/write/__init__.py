"""Writing files: one row for each format, and the writers."""

__all__ = [
    "contact",
    "cut_line",
    "dxf",
    "encoding",
    "estimate",
    "formats",
    "memory",
    "page",
    "pdf",
    "pdf_inks",
    "pdf_standards",
    "profiles",
    "streaming",
    "svg",
    "web",
]
