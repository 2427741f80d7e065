"""The question path drawn."""
