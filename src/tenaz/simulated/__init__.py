"""The machine inside the simulated rig: what its parts can do, how it warms, boots, computes and fails. No bench."""
