"""The outlines of the items on a sheet, and the rules that reshape, combine and place them."""
