"""Rigs alike: the edges of the workshop's rigs that have a part, and where the rig in hand stands."""
