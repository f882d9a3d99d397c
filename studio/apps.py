"""The app and its warm-up."""

import logging

from django.apps import AppConfig

log = logging.getLogger(__name__)


class StudioConfig(AppConfig):
    """Gouge's interface."""

    name = "studio"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Ask the engine one question, so that the first person does not wait for it to load."""
        from django.conf import settings

        import outline
        from outline.path.kernel import compiled
        from picture import mapped_pixels
        from studio.work import tasks  # noqa: F401  jobs name its functions

        mapped_pixels.lay_in(settings.FILE_UPLOAD_TEMP_DIR)
        outline.union([outline.rectangle(2, 2), outline.ellipse(1, 1, 2, 1)])
        if not compiled():
            log.warning("the engine runs interpreted, slower: compile it with `python -m outline.compile`")
