"""What comes next, and why: one answer for screen, command line and stick."""
