"""A rig: its machine, knobs, stock, purpose and benches; what is noted on its values."""
