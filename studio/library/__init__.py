"""A person's projects, photos and shelf, and all of these as files."""
