"""Forms of what goes out on paper."""
