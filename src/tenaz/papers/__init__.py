"""What travels on paper and in files: sheets, setpoints, rigs, and pictures with their heads."""
