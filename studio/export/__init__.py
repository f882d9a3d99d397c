"""Exports of one sheet, and batches: one frame over many photos."""
