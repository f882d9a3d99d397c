"""The contents of an export, its sizes and file names."""

__all__ = ["batch", "filenames", "order", "sizes"]
