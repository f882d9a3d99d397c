"""Damage to files, as a Hypothesis strategy: bytes changed, put in, taken out, doubled, and cut off."""

from hypothesis import strategies as st

__all__ = ["damaged"]


def damaged(data: bytes, most: int = 4) -> st.SearchStrategy[bytes]:
    """Return files made of one by a few changes."""
    pieces = st.sampled_from([b"\xff" * 4, b"\0" * 4, b"\x7f\xff\xff\xff", b"-1"])
    at = st.one_of(st.integers(0, len(data)), st.integers(0, min(len(data), 200)))
    change = st.tuples(
        st.sampled_from(["set", "put", "take", "twice", "cut"]),
        at,
        st.one_of(st.binary(min_size=1, max_size=8), pieces),
        st.integers(1, 60),
    )

    def made(changes: list[tuple[str, int, bytes, int]]) -> bytes:
        out = data
        for how, place, piece, length in changes:
            if how == "set":
                out = out[:place] + piece + out[place + len(piece) :]
            elif how == "put":
                out = out[:place] + piece + out[place:]
            elif how == "take":
                out = out[:place] + out[place + length :]
            elif how == "twice":
                out = out[: place + length] + out[place:]
            else:
                out = out[: max(1, place)]
        return out

    return st.lists(change, min_size=1, max_size=most).map(made)
