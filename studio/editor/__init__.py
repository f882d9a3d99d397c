"""The editor: its page, its panels, its keys."""

__all__ = [
    "colour_views",
    "keys",
    "panels",
    "refit_views",
    "responses",
    "silhouette_views",
    "tray_views",
    "view_state",
    "views",
]
