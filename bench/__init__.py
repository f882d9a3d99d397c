"""Ratios against references, each pair measured in one process and one run."""
