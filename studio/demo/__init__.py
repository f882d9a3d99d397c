"""Demo data: a made-up ferry line prints its season booklet. No person, brand or real place."""

__all__ = ["batch", "first_job", "load", "make", "photos", "ready", "scenes", "shelf", "table", "views"]
