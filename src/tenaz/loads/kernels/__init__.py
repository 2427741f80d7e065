"""Kernels as LLVM IR: addresses and patterns go in, mismatches come out. Only worker processes import these."""
