"""What the engine is handed: a bench, a journal, a technician, a clock; what it says meanwhile."""
