"""Strategies as generators: a proposal out, a trial's facts in, advice at the end. One file each."""
