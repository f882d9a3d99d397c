"""A project through time: the only ways a project changes, and how its revisions are stored."""

__all__ = ["changes", "deltas", "revisions", "sessions", "stored", "views"]
