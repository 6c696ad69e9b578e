"""Finding anything by its name: controls, layers, values, the palette, commands, the guide."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.popover import Popover

SHOWN, WIDTH = 10, 460


@dataclass(frozen=True)
class Goal:
    """What can be found: its name, what it is, and what choosing it does."""

    name: str
    kind: str
    act: Callable[[], object]
    # What else it may be looked for by.
    also: str = ""
    # Behind all others that match as well: there are many of its kind.
    last: bool = False


def matching(goals: Sequence[Goal], typed: str) -> list[Goal]:
    """Those that have every word that was typed, the nearest first.

    >>> [goal.name for goal in matching([Goal("Save as", "command", print),
    ...     Goal("Save", "command", print), Goal("Board", "control", print)], "sa")]
    ['Save', 'Save as']
    """
    words = typed.casefold().split()

    def distance(goal: Goal) -> tuple[int, int] | None:
        name, every = goal.name.casefold(), f"{goal.name} {goal.kind} {goal.also}".casefold()
        if not all(word in every for word in words):
            return None
        if not words:
            return 2, 0
        starts = name.startswith(words[0])
        begins = any(part.startswith(words[0]) for part in name.split())
        rank = 0 if starts else 1 if begins else 2 if words[0] in name else 3
        return rank + 4 * goal.last, len(name)

    ranked = [(rank, at, goal) for at, goal in enumerate(goals)
              if (rank := distance(goal)) is not None]
    return [goal for _, _, goal in sorted(ranked, key=lambda found: found[:2])]


class FindBox(Popover):
    """A line to type in, and what it matches; Enter does the first, the arrows choose another."""

    def __init__(self, goals: Sequence[Goal], parent: QWidget) -> None:
        super().__init__(parent)
        self.setFixedWidth(WIDTH)
        self.goals = list(goals)
        self.shown: list[Goal] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_2)
        self.entry = QLineEdit(self)
        self.entry.setAccessibleName("Find")
        self.entry.setPlaceholderText(
            "A control, layer, value, colour, icon, command or guide page")
        self.entry.textChanged.connect(self._match)
        self.entry.returnPressed.connect(self._take)
        self.list = QListWidget(self)
        self.list.setAccessibleName("What matches")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemClicked.connect(lambda _item: self._take())
        self.nothing = PlainLabel("Nothing matches. Try part of the name.", self)
        self.nothing.setProperty("role", "dim")
        for widget in (self.entry, self.list, self.nothing):
            column.addWidget(widget)
        self._match("")

    def _match(self, typed: str) -> None:
        self.shown = matching(self.goals, typed)[:SHOWN]
        self.list.clear()
        for goal in self.shown:
            item = QListWidgetItem(f"{goal.name}    {goal.kind}")
            tip(item, goal.kind)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.list.setVisible(bool(self.shown))
        self.nothing.setVisible(not self.shown)
        self.list.setFixedHeight(len(self.shown) * max(1, self.list.sizeHintForRow(0)) + 4)
        self.adjustSize()

    def _take(self) -> None:
        at = self.list.currentRow()
        if 0 <= at < len(self.shown):
            goal = self.shown[at]
            self.close()
            goal.act()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is not None and self.shown:
            self.list.setCurrentRow((self.list.currentRow() + step) % len(self.shown))
        else:
            super().keyPressEvent(event)

    def open_over(self, window: QWidget) -> None:
        at = window.mapToGlobal(QPoint((window.width() - WIDTH) // 2, 60))
        self.move(at)
        self.show()
        self.entry.setFocus()
