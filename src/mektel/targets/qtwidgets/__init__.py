"""Qt Widgets: one self-contained Python module per control."""
