"""Log records as one line each."""

import logging


class OneLine(logging.Filter):
    """Leaves the traceback out of a line."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Format the record without its traceback."""
        record.exc_info = record.exc_text = None
        return True
