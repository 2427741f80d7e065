"""Reports: facts, words, and how they are kept."""
