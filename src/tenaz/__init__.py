"""Tenaz: find a machine's stable settings and how far they are from the settings that fail."""

__version__ = "0.16.0"
