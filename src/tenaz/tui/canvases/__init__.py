"""The canvases in the middle, one a file."""
