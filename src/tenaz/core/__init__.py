"""The trade's own words as values: knobs, setpoints, trials, outcomes. No I/O, no clock reads."""
