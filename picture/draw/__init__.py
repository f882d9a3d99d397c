"""Drawing a sheet: as fragments for the screen, and as pixels."""
