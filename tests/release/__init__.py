"""What is given out, and the proof that it works on a fresh machine: ``python -m tests.release``."""
