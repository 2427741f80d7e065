"""The simulated rig: a stand-in for the machine on the bench, with an edge that it hides."""
