"""The question path to the faulty part: what may be at fault, what was seen, what to do next, what is sure enough."""
