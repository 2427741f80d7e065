"""The Memory picture."""
