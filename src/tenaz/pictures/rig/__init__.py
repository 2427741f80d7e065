"""The Rig picture."""
