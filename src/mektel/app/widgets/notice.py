"""Notices: what happened, in a bar that takes no focus and goes away by itself or by a press."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_3, GAP_4
from mektel.app.widgets.plain import PlainLabel

SHOWN_FOR = 7000
MOST_DETAILS = 6


class NoticeBar(QFrame):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_4, GAP_2, GAP_2, GAP_2)
        column.setSpacing(GAP_2)
        row = QHBoxLayout()
        row.setSpacing(GAP_3)
        self.text = PlainLabel(self)
        self.text.setWordWrap(True)
        self.more = QPushButton("Details", self)
        self.act = QPushButton(self)
        self.other = QPushButton(self)
        self.close_button = QPushButton("Close", self)
        row.addWidget(self.text, 1)
        for button in (self.act, self.other, self.more, self.close_button):
            row.addWidget(button)
        column.addLayout(row)
        self.details = PlainLabel(self)
        self.details.setWordWrap(True)
        column.addWidget(self.details)
        self._timer = QTimer(self, singleShot=True, interval=SHOWN_FOR)
        self._timer.timeout.connect(self.hide)
        self.close_button.clicked.connect(self.hide)
        self.more.clicked.connect(self._show_details)
        self.act.clicked.connect(lambda: self._do("act"))
        self.other.clicked.connect(lambda: self._do("act_other"))
        self._notice: Notice | None = None
        self.hide()

    def tell(self, notice: Notice) -> None:
        self._notice = notice
        self.text.setText(notice.text)
        shown = notice.details[:MOST_DETAILS]
        left = len(notice.details) - len(shown)
        self.details.setText("\n".join(shown) + (f"\nand {left} more" if left else ""))
        self.details.hide()
        self.more.setVisible(bool(notice.details))
        self.act.setText(notice.action)
        self.act.setVisible(bool(notice.action))
        self.other.setText(notice.other)
        self.other.setVisible(bool(notice.other))
        self.show()
        # What asks for a decision or tells of a fault stays until it is closed.
        stays = notice.bad or bool(notice.details) or bool(notice.action)
        self._timer.stop() if stays else self._timer.start()

    def _show_details(self) -> None:
        self.details.setVisible(not self.details.isVisible())

    def _do(self, which: str) -> None:
        self.hide()
        act = getattr(self._notice, which, None)
        if act:
            act()
