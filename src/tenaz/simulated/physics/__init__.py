"""The physics of the simulated machine: heat, speed, edges, luck."""
