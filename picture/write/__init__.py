"""Writing files: one row for each format, and the writers."""
