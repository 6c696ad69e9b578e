"""Computation only: no interface code, no file formats, no target code."""
