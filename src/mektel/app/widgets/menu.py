"""Menu entries that call what they were given and nothing else."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu


def add_action(menu: QMenu, text: str, act: Callable[..., object], *args: Any) -> QAction:
    """An entry that calls ``act(*args)``; Qt’s own “checked” argument stays out of it."""
    action = menu.addAction(text)
    action.triggered.connect(lambda _checked=False: act(*args))
    return action
