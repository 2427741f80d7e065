"""Strategies tried on many hidden rigs: what they cost, how safe their advice is, how true their intervals are."""
