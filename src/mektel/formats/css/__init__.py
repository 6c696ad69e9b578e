"""CSS declarations and rules as a control with editable layers."""

from mektel.formats.css.importer import control_from_css, read_css
from mektel.formats.css.rules import CssError

__all__ = ["CssError", "control_from_css", "read_css"]
