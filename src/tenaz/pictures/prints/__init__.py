"""The Prints picture."""
