"""Parts of a rig: what is fitted where, what was done to them, isolation by module."""
