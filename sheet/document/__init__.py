"""The document: what is on a sheet, how it is stored and checked, and finding things in it."""
