"""A drawing of a button (SVG) -> a control with editable layers."""

from mektel.formats.svg.drawing import Drawing, DrawingError
from mektel.formats.svg.importer import import_svg, read_svg

__all__ = ["Drawing", "DrawingError", "import_svg", "read_svg"]
