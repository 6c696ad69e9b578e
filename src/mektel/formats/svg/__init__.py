"""A drawing of a button (SVG) -> a control with editable layers."""

from mektel.formats.svg.drawing import Drawing, DrawingError
from mektel.formats.svg.importer import Imported, import_svg, read_svg

__all__ = ["Drawing", "DrawingError", "Imported", "import_svg", "read_svg"]
