"""SVG: a drawing of every state, and one that answers the pointer by CSS."""
