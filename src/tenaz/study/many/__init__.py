"""Many knobs: strategies over groups and fields, on drawn ones whose truth is known."""
