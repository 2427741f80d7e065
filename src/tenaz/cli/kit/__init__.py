"""What commands have in common: options, questions, progress, a bench opened and closed."""
