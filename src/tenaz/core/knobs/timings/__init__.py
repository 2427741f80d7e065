"""The arithmetic of memory timings: clocks and nanoseconds, another rate, what follows from what."""
