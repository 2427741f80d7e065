"""Each load as a worker runs it: ``run(spec, line)`` gives the laps done. Only worker processes import these."""
