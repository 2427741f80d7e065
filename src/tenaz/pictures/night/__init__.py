"""The Night picture."""
