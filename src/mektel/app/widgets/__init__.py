"""Widgets that several rooms share."""
