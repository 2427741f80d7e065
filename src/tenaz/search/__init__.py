"""Strategies as generators: a proposal out, a result in, advice at the end."""
