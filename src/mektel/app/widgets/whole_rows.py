"""A list that ends with a whole row."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QListWidget


class WholeRows(QListWidget):
    """Its rows are of one height; what is left of the room below them stays empty."""

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def addItems(self, labels: Sequence[str]) -> None:
        super().addItems(labels)
        self._fit()

    def _fit(self) -> None:
        row = self.sizeHintForRow(0)
        left = self.contentsRect().height() % row if row > 0 else 0
        if self.viewportMargins().bottom() != left:
            self.setViewportMargins(0, 0, 0, left)
