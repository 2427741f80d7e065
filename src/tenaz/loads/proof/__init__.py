"""Proof that the march kernels find what theory says: the same machine code against an array with faults."""
