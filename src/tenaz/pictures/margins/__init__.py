"""The Margins picture."""
