"""The workbench's panels, one a file."""
