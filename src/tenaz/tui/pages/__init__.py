"""The pages in the middle, one a file."""
