"""Reading and writing open formats: kit file, SVG, PNG."""
