"""A row that goes on in another where there is no room."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem, QSizePolicy, QWidget, QWidgetItem


class Flow(QLayout):
    """Items from left to right in as many rows as the width asks for.

    An item with a ``stretch`` takes its share of what is left of its row. Where all fit into one
    row, those added after :meth:`add_space` stand at its right.
    """

    def __init__(self, parent: QWidget, gap: int, row_gap: int) -> None:
        super().__init__(parent)
        self._items: list[tuple[QLayoutItem, int]] = []
        self._space: int | None = None
        self._gap, self._row_gap = gap, row_gap
        # What layouts ask for again and again, until an item changes: by width, and by item.
        self._heights: dict[int, int] = {}
        self._widths: dict[QLayoutItem, int] = {}
        self.setContentsMargins(0, 0, 0, 0)

    def add(self, widget: QWidget, stretch: int = 0) -> None:
        self.addChildWidget(widget)
        self._items.append((QWidgetItem(widget), stretch))
        self.invalidate()

    def add_space(self) -> None:
        """What comes after it stands at the right."""
        self._space = len(self._items)

    # What Qt asks of a layout

    def invalidate(self) -> None:
        self._heights.clear()
        self._widths.clear()
        super().invalidate()

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append((item, 0))

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, at: int) -> QLayoutItem | None:
        return self._items[at][0] if 0 <= at < len(self._items) else None

    def takeAt(self, at: int) -> QLayoutItem | None:
        return self._items.pop(at)[0] if 0 <= at < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation.Horizontal

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        if width not in self._heights:
            self._heights[width] = self._lay(QRect(0, 0, width, 0), False)
        return self._heights[width]

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._lay(rect, True)

    def minimumSize(self) -> QSize:
        sizes = [item.minimumSize() for item, _ in self._shown()]
        return QSize(max((size.width() for size in sizes), default=0),
                     max((size.height() for size in sizes), default=0))

    def sizeHint(self) -> QSize:
        wide = self._wide(self._shown())
        return QSize(wide, self.heightForWidth(wide))

    # Rows

    def _shown(self) -> list[tuple[QLayoutItem, int]]:
        return [(item, stretch) for item, stretch in self._items if not item.isEmpty()]

    def _width(self, item: QLayoutItem) -> int:
        if item not in self._widths:
            self._widths[item] = self._least(item)
        return self._widths[item]

    @staticmethod
    def _least(item: QLayoutItem) -> int:
        """The least width that an item is content with."""
        widget = item.widget()
        policy = widget.sizePolicy().horizontalPolicy() if widget else QSizePolicy.Policy.Preferred
        if policy in (QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Minimum):
            return max(item.sizeHint().width(), item.minimumSize().width())
        return item.minimumSize().width()

    def _rows(self, width: int) -> list[list[tuple[QLayoutItem, int]]]:
        rows: list[list[tuple[QLayoutItem, int]]] = [[]]
        taken = 0
        for item, stretch in self._shown():
            wide = self._width(item)
            if rows[-1] and taken + self._gap + wide > width:
                rows.append([])
                taken = 0
            taken += wide + (self._gap if rows[-1] else 0)
            rows[-1].append((item, stretch))
        # Where all needs two rows, what stands at the right goes to the second as a whole.
        if len(rows) == 2 and self._space is not None:
            kept = [entry for entry in self._items[: self._space] if not entry[0].isEmpty()]
            parts = [kept, self._shown()[len(kept):]]
            if all(part and self._wide(part) <= width for part in parts):
                return parts
        return rows

    def _wide(self, row: list[tuple[QLayoutItem, int]]) -> int:
        return sum(self._width(item) for item, _ in row) + self._gap * max(0, len(row) - 1)

    def _lay(self, rect: QRect, place: bool) -> int:
        """The height of all rows; puts the items there if they are to be placed."""
        rows, top = self._rows(rect.width()), rect.y()
        first_right = None
        if self._space is not None and len(rows) == 1:
            first_right = next((item for item, _ in self._items[self._space:]
                                if not item.isEmpty()), None)
        for row in rows:
            left, shares = rect.width() - self._wide(row), sum(stretch for _, stretch in row)
            widths = [self._width(item) + (left * stretch // shares if shares else 0)
                      for item, stretch in row]
            heights = [item.heightForWidth(width) if item.hasHeightForWidth()
                       else item.sizeHint().height()
                       for (item, _), width in zip(row, widths, strict=True)]
            high = max(heights, default=0)
            if place:
                x = rect.x()
                for (item, stretch), width, height in zip(row, widths, heights, strict=True):
                    if item is first_right and not shares:
                        x += left
                    tall = high if stretch else height
                    item.setGeometry(QRect(x, top + (high - tall) // 2, width, tall))
                    x += width + self._gap
            top += high + self._row_gap
        return top - self._row_gap - rect.y()
