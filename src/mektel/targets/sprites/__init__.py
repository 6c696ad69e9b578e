"""Sprites: a PNG per state and density, atlases, and a JSON description."""
