"""Commands that try something on a rig."""
