"""What is known of rigs, their parts and their faults."""
