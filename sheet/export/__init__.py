"""The contents of an export, its sizes and file names."""
