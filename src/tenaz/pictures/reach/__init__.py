"""What a part usually reaches: the edges of the workshop's rigs that have it, and where the rig in hand stands."""
