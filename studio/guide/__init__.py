"""The guide: a dozen jobs in a few steps each, with pictures drawn by the app itself."""

__all__ = ["jobs", "pictures", "reference", "stations", "views"]
