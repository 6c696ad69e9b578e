"""The Reuse room: variations, parameters, palette, finishes."""
