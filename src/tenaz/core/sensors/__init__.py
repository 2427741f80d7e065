"""Sensors, their samples and traces; ceilings and what is said under load."""
