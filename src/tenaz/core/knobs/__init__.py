"""Knobs, their grids and values; setpoints; what reads back; clocks; memory timings."""
