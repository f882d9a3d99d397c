"""Views, one module per part of the app."""
