"""What settings were called in files that were written before."""

FORMER_THEMES = {"soot": "dark", "chalk": "light"}
"""Themes by their former names."""
