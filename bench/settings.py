"""The app's settings, with two empty views to compare against."""

from config.settings import *  # noqa: F403

ROOT_URLCONF = "bench.urls"
