"""The Build room: all states live on the wall, layers on the strip, dials on the open card."""
