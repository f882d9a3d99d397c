"""Reading a sheet without changing it: dimensions, warnings, effort, places to snap to."""
