"""Static files under names that tell what is in them, so that a browser asks for each once."""

from whitenoise.storage import CompressedManifestStaticFilesStorage

__all__ = ["Hashed"]


class Hashed(CompressedManifestStaticFilesStorage):
    """Names with a hash, in what modules import too; compressed beforehand."""

    support_js_module_import_aggregation = True
    # a module's name is known once those of all that it imports are, and they import one another many deep
    max_post_process_passes = 30
