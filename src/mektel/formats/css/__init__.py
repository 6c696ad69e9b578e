"""Style sheets: what they describe that can be pressed, as controls with editable layers."""

from mektel.formats.css.importer import control_from_css, control_of, open_sheet, read_css
from mektel.formats.css.pressables import Pressable, pressables
from mektel.formats.css.tokens import CssError

__all__ = [
    "CssError", "Pressable", "control_from_css", "control_of", "open_sheet", "pressables",
    "read_css",
]
