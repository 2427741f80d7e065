"""The bench ``sim``: the simulated rig behind the same stations as every rig, in its own time."""
