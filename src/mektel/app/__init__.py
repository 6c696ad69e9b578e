"""The Qt Widgets interface: one folder per room, shared parts beside them."""
