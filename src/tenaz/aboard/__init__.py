"""Aboard the stick: what is done when nobody is there, and what the next start is told."""
