"""Simulated rigs as they are made: populations, parts, faults, scenarios."""
