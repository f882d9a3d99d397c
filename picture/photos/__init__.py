"""Photo files: their metadata, and their pixels, upright and in sRGB, at the needed size."""

__all__ = ["decode", "icc", "interest", "print_profiles", "probe", "scaled", "signalled"]
