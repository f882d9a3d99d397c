"""What the items of a sheet look like as outlines, and the rules that reshape, combine and place them."""
