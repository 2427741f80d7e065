"""How the book's tables came to be, step by step."""
