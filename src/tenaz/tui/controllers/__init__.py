"""What keys do: one controller for each thing that is worked on. A key calls the method of its command's name."""
