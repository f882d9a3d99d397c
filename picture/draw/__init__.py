"""A sheet drawn: as fragments for the screen, and as pixels."""
