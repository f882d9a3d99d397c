"""Accounts: signing in and up, passwords, lockout."""
