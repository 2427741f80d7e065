"""Commands of the stick."""
