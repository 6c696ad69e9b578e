"""Emptying what is filled anew."""

from __future__ import annotations

from PySide6.QtWidgets import QLayout, QWidget


def empty(layout: QLayout) -> None:
    """Takes every widget out of a layout, to be deleted once events are done."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item else None
        if widget is not None:
            remove_later(widget)


def remove_later(widget: QWidget) -> None:
    """Hides a widget, to be deleted once events are done: Qt may be at work with it."""
    widget.hide()
    widget.deleteLater()
