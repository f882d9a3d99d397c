"""What a person typed: lengths with units and sums, counts, colours, sizes of sheets."""

__all__ = ["colours", "details", "lengths", "sizes"]
