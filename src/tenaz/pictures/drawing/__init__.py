"""What all pictures are drawn with: cells, marks, roles; and how cells become SVG, PDF and HTML."""
