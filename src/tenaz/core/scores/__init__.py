"""How fast a rig is: what was measured, its noise, gains between setpoints, what holds it back."""
