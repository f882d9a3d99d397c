"""A hundred people at work while things are killed, full and gone: `python -m bench.soak SECONDS`."""
