"""Reports: what one says, kept in no language; its editions as leaves, and as figures for other programs."""
