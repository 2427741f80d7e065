"""The workbench: a full-screen interface in the terminal."""
