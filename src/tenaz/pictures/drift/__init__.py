"""The Drift picture."""
