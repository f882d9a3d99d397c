"""What an export contains, how large it comes out and what its files are called."""
