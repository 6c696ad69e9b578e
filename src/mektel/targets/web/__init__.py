"""Web: a standard custom element per control."""
