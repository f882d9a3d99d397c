"""The document: what is on a sheet, how it is stored and checked, and finding things in it."""

__all__ = ["errors", "gradients", "ids", "kinds", "library", "limits", "model", "points", "store", "tree", "validation"]
