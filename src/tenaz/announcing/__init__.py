"""The end of a trial is told to whoever wants to know."""
