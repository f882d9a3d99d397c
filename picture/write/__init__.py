"""Files written: one row for each format, and what each needs."""
