"""A night alone: the route over many knobs, its legs one after the other, the proof at its end."""
