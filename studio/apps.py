"""The app and its warm-up."""

from django.apps import AppConfig


class StudioConfig(AppConfig):
    """Gouge's interface."""

    name = "studio"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Ask the engine one question, so that the first person does not wait for it to load."""
        import outline

        outline.union([outline.rectangle(2, 2), outline.ellipse(1, 1, 2, 1)])
