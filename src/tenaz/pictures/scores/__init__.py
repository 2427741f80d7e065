"""The Scores picture."""
