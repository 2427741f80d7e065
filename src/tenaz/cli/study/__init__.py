"""Commands that study strategies and prove kernels."""
