"""Photo files: what their heads say, and their pixels, upright and in sRGB, at the size that is needed."""
