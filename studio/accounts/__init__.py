"""Accounts: signing in and up, passwords, who is locked out."""
