"""The Reuse room: variations, parameters, palette, faces."""
