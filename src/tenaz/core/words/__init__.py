"""What things are called: our word for each, and what the trade says."""
