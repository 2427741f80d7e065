"""The ways to reach a rig, each behind the same contract: simulated, this machine, by hand. Never each other."""
