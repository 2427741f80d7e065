"""What goes over the wire between the book's machine and a rig, and how it is kept whole when the wire is not."""
