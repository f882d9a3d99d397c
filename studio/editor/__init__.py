"""The editor: what a page is sent, its panels, its keys."""
