"""What is asked of graphics cards: opened, gone over, reckoned with, drawn on. Only worker processes import these."""
