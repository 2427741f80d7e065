"""The Climb picture."""
