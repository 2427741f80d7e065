"""Whole nights on simulated rigs, played without a bench: against usual practice, with the machine's truth at hand."""
