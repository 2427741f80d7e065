"""Pictures put together from what the book holds: one place for screen, file and snapshot."""
