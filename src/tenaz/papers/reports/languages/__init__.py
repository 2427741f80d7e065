"""Sentences of the page for a client, a file a language."""
