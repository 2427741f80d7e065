"""The Plan picture."""
