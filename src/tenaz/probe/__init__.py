"""Readers for what the operating system publishes about this machine: files in, values out."""
