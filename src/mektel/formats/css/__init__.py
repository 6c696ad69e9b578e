"""Style sheets: what they describe that can be pressed, as controls with editable layers."""

from mektel.formats.css.importer import (
    LARGEST_SHEET,
    control_from_css,
    control_of,
    name_of,
    open_sheet,
    pressables_of,
    read_css,
    read_selectors,
)
from mektel.formats.css.pressables import Pressable, bases_among, pressables
from mektel.formats.css.tokens import CssError

__all__ = [
    "LARGEST_SHEET", "CssError", "Pressable", "bases_among", "control_from_css", "control_of",
    "name_of", "open_sheet", "pressables", "pressables_of", "read_css", "read_selectors",
]
