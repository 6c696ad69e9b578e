"""What every control that Mektel ships for Qt Widgets stands on. Needs PySide6 only."""

from .control import BusyControl, Control, HoldControl
from .design import Corner, Design, Picture
from .parameters import action, qt_colour, stops_of, value

__all__ = ["BusyControl", "Control", "Corner", "Design", "HoldControl", "Picture", "action",
           "qt_colour", "stops_of", "value"]
