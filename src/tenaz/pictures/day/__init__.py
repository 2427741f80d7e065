"""The Day picture."""
