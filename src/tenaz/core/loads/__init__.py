"""Loads as they are asked for: kinds, fields, words, routines, programs of one's own, what they reach."""
