"""Mektel: a button design becomes a native, reusable, pressable control."""

__version__ = "0.1.0"
