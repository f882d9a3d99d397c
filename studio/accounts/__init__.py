"""Accounts: signing in and up, passwords, lockout."""

__all__ = ["forms", "hashing", "lockout", "mail", "views"]
