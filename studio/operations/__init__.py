"""Running the server: upload limits, errors, backups, and what is deleted for good and when."""
