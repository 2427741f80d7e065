"""What runs: trials, routines, searches, plans, measures."""
