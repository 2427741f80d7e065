"""The Cycle picture."""
