"""Drawing a sheet: as fragments for the screen, and as pixels."""

__all__ = ["colours", "drawn", "raster", "screen", "silhouette", "skiapath", "thumb"]
