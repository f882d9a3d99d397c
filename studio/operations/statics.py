"""Static files under names that depend on their content, so that a browser asks for each once."""

from whitenoise.storage import CompressedManifestStaticFilesStorage

__all__ = ["Hashed"]


class Hashed(CompressedManifestStaticFilesStorage):
    """Names with a hash, also in what modules import; compressed beforehand."""

    support_js_module_import_aggregation = True
    # a module's name depends on those of its imports, which are nested many levels deep
    max_post_process_passes = 30
