"""What is made later stands in the order of Tab where it stands in the window."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget


def follow(container: QWidget, widgets: Iterable[QWidget]) -> None:
    """Has Tab go to the widgets of a container in turn, after what comes before the container."""
    before = container.previousInFocusChain()
    while before is not None and before is not container and (
            not _takes_tab(before) or before.isAncestorOf(container)
            or container.isAncestorOf(before)):
        before = before.previousInFocusChain()
    if before is None:
        return
    for widget in widgets:
        for part in (widget, *widget.findChildren(QWidget)):
            if _takes_tab(part):
                QWidget.setTabOrder(before, part)
                before = part


def _takes_tab(widget: QWidget) -> bool:
    return bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)
