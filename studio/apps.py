"""The app and its warm-up."""

import logging

from django.apps import AppConfig

log = logging.getLogger(__name__)


class StudioConfig(AppConfig):
    """Gouge's interface."""

    name = "studio"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Load what needs files in memory, and warn if the engine will stay slow."""
        from django.conf import settings

        from outline import use_fonts
        from outline.path.kernel import compiled, warming
        from picture import mapped_pixels
        from picture.photos.print_profiles import use_profiles
        from studio.accounts import mail  # noqa: F401  jobs name their functions
        from studio.library import fonts, print_profiles
        from studio.work import tasks  # noqa: F401

        use_fonts(fonts.find)
        use_profiles(print_profiles.find)
        mapped_pixels.lay_in(settings.FILE_UPLOAD_TEMP_DIR)
        if not compiled() and warming() is None:
            log.warning("the engine runs interpreted, slower: compile it with `python -m outline.compile`")
