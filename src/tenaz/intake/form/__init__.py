"""The lines of a rig's form: one, those of the machine, those of what it is for."""
