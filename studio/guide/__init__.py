"""The guide: a dozen jobs in a few steps each, with pictures that the app draws of them itself."""
