"""A project through time: the only ways a project changes, and how its revisions are stored."""
