"""Demo data: a made-up ferry line prints its season booklet. No person, brand or real place."""
