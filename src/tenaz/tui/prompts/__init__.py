"""What is asked for as a line of text, or picked from a list."""
