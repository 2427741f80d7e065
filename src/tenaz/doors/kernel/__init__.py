"""The door ``kernel``: firmware attributes, clocks and power limits, as the kernel documents them for writing."""
