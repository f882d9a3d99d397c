"""What is written of what happens, a line each."""

import logging


class OneLine(logging.Filter):
    """Leaves the traceback out of a line."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Pass the record on without it."""
        record.exc_info = record.exc_text = None
        return True
