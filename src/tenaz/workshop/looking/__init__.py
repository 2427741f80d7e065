"""What there is to see of the book."""
