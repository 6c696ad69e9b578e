"""What every control that Mektel ships for Qt Widgets stands on. Needs PySide6 or PyQt6."""

from .control import BusyControl, Control, LongPressControl
from .design import Design, Picture
from .feel import Feel, Swing, Timing, clock, reduced_motion, set_reduced_motion
from .parameters import action, qt_colour, stops_of, value
from .qt import QtWidgets, Signal

__all__ = ["BusyControl", "Control", "Design", "Feel", "LongPressControl", "Picture", "QtWidgets",
           "Signal", "Swing", "Timing", "action", "clock", "qt_colour", "reduced_motion",
           "set_reduced_motion", "stops_of", "value"]
