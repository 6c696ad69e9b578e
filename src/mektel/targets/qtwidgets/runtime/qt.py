"""The Qt binding that the application uses: PySide6 or PyQt6."""

from __future__ import annotations

import importlib
import importlib.util
import sys
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from types import TracebackType
from typing import TYPE_CHECKING

# PySide6 6.12.0 on Python 3.11 loses a reference to None whenever Qt calls Python, and ends the
# process when none is left.
FAULTY = ("6.12.0", (3, 11))
FEWEST_REFERENCES = 500_000
_spare: list[None] = []


def _name() -> str:
    """The binding that is imported already, else the one that is installed."""
    loaded = [name for name in ("PySide6", "PyQt6") if name in sys.modules]
    installed = [name for name in ("PySide6", "PyQt6") if importlib.util.find_spec(name)]
    for name in (*loaded, *installed):
        return name
    raise ImportError("PySide6 or PyQt6 is needed: pip install PySide6")


if TYPE_CHECKING:
    from PySide6 import QtCore, QtGui, QtWidgets
    from PySide6.QtCore import Property, Signal

    BINDING = "PySide6"
else:
    BINDING = _name()
    QtCore, QtGui, QtWidgets = (
        importlib.import_module(f"{BINDING}.{part}") for part in ("QtCore", "QtGui", "QtWidgets"))
    Signal = QtCore.Signal if BINDING == "PySide6" else QtCore.pyqtSignal
    Property = QtCore.Property if BINDING == "PySide6" else QtCore.pyqtProperty

SMOOTH = (QtGui.QPainter.RenderHint.Antialiasing
          | QtGui.QPainter.RenderHint.SmoothPixmapTransform)
# What QPaintDevice.devType says of a QImage.
IMAGE = 3
LOSES_REFERENCES = BINDING == "PySide6" and (
    QtCore.qVersion(), sys.version_info[:2]) == FAULTY
if LOSES_REFERENCES:
    warnings.warn(
        "PySide6 6.12.0 ends the process on Python 3.11 after some time: use 6.11 or another "
        "Python. Until then some memory is spent to put that off.", RuntimeWarning, stacklevel=2)


def keep_references() -> None:
    """Where references to None are lost, there have to be enough."""
    if LOSES_REFERENCES and sys.getrefcount(None) < FEWEST_REFERENCES:
        _spare.extend([None] * FEWEST_REFERENCES)


@contextmanager
def painter_on(device: QtGui.QPaintDevice) -> Iterator[QtGui.QPainter]:
    """A painter that ends whatever happens: Qt ends the process for one that is left open."""
    painter = QtGui.QPainter(device)
    try:
        yield painter
    finally:
        painter.end()


class Reported:
    """Reports what goes wrong within it: Qt ends the process for an exception that reaches it."""

    def __enter__(self) -> None:
        pass

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None,
        trace: TracebackType | None,
    ) -> bool:
        if kind is None or error is None or not issubclass(kind, Exception):
            return False
        sys.excepthook(kind, error, trace)
        return True


def is_on_window(painter: QtGui.QPainter, widget: QtWidgets.QWidget) -> bool:
    """Whether a painter paints what a window shows, not a picture that is taken of it."""
    device = painter.device()
    if BINDING == "PySide6":
        store: QtGui.QBackingStore | None = widget.backingStore()
        return store is not None and device is store.paintDevice()
    # PyQt6 knows the class of a picture that Python made; a window's is an image made by Qt.
    sip = importlib.import_module("PyQt6.sip")
    return type(device) is QtGui.QPaintDevice and bool(
        sip.cast(device, QtGui.QPixmap).devType() == IMAGE)


def bytes_of(image: QtGui.QImage) -> bytes:
    """The pixels of a picture, row after row."""
    bits = image.constBits()
    as_string = getattr(bits, "asstring", None)  # PyQt6
    return as_string(image.sizeInBytes()) if as_string else bytes(bits)


__all__ = ["SMOOTH", "Property", "QtCore", "QtGui", "QtWidgets", "Reported", "Signal", "bytes_of",
           "is_on_window", "keep_references", "painter_on"]
