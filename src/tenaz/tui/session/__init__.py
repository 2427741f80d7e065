"""What is worked on in front of the screen, and the panels that show it."""
