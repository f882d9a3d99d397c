"""Exports of one sheet, and batches: one frame over many photos."""

__all__ = ["batch_photo_views", "batch_views", "batches", "exports", "views", "web_views"]
