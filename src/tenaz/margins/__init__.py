"""Hazards, intervals, and where an edge lies: arrays in, numbers out."""
