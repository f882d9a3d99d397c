"""Running the server: limits of uploads, errors, backups, what is deleted for good and when."""
