"""What a set of wrong values looks like, and what it points to."""
