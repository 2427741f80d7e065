"""Commands that show what the book holds."""
