"""Photo files: their metadata, and their pixels, upright and in sRGB, at the needed size."""
