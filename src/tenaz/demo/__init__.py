"""The demo: Taller Cumbre, a two-person workshop in a mountain town, and the rigs on its benches. All invented."""
