"""What a person has: projects, photos, the shelf, and all of these as files."""
