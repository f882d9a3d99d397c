"""The editor: its page, its panels, its keys."""
