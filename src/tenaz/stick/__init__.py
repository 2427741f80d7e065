"""The stick: making the medium that brings Tenaz to a machine without a system."""
