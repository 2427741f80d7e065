"""The stress loads: a catalogue, the child process that runs one, and the run over all of them."""
