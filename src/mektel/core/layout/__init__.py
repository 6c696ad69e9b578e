"""Laying out: where things of given sizes stand in a box. Knows nothing of controls."""

from mektel.core.layout.arrange import Flow, Item, arrange, extent

__all__ = ["Flow", "Item", "arrange", "extent"]
