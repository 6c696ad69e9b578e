"""Style sheets: what they describe that can be pressed, as controls with editable layers."""

from mektel.formats.css.importer import (
    LARGEST_SHEET,
    control_from_css,
    control_of,
    name_of,
    open_sheet,
    pressables_of,
    read_css,
)
from mektel.formats.css.pressables import Pressable, pressables
from mektel.formats.css.tokens import CssError

__all__ = [
    "LARGEST_SHEET", "CssError", "Pressable", "control_from_css", "control_of", "name_of",
    "open_sheet", "pressables", "pressables_of", "read_css",
]
