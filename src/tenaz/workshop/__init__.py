"""Wires rigs, benches, book, engine and strategy together: the only room that knows everyone."""
