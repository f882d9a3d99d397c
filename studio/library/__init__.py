"""A person's projects, photos and shelf, and all of these as files."""

__all__ = [
    "archive",
    "examples",
    "fonts",
    "lookup",
    "own_file_views",
    "own_files",
    "photo_views",
    "photos",
    "print_profiles",
    "project_views",
    "shelf",
    "shelf_files",
    "shelf_views",
    "thumbs",
    "tracing",
]
