"""The Field picture."""
