"""The Load picture, and a routine being composed."""
