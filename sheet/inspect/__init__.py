"""Reading a sheet without changing it: dimensions, warnings, effort, places to snap to."""

__all__ = ["dimensions", "effort", "preflight", "snapping"]
