"""The pictures that one thinks with."""
