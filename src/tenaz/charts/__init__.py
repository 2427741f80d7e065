"""One model of each picture, drawn to terminal cells and to paper from the same data with the same marks."""
