"""Trials in the book: begun, moved, recorded, corrected, gathered; what is kept under load."""
