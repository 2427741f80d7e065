"""How whoever waits for what runs still hears an interrupt."""

HEARS_WITHIN_S = 0.2
"""Waits are made in pieces so long: a signal just before one waits for good would be heard when all is over."""
