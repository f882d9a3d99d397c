"""Running the server: upload limits, errors, backups, and what is deleted for good and when."""

__all__ = ["backup", "health", "middleware", "retention", "setting_up", "statics", "upload_limits"]
