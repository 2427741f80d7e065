"""Catalogues of knobs as data: those that come along, and a board's own."""
