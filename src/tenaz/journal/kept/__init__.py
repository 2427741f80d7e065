"""What the book keeps beside trials, a file for each kind."""
