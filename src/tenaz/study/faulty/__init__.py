"""Rigs with drawn faults: what is learnt of them, and how the question path does on them."""
