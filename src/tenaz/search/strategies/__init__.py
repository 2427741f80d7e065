"""One strategy a file; what stands here is found by itself."""
