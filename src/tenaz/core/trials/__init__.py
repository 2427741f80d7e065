"""Trials: what was asked and in force, how each ended; looking for them; what they cost; when one is due."""
