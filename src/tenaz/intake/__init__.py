"""A rig becomes known: read from a machine, filled in by hand, its knobs out of catalogues."""
