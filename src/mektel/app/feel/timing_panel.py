"""The timing of the change that is looked at: its dials, and the palette entry it follows."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from mektel.app.theme import GAP_1, GAP_3
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.timing_dials import TimingDials, timing_text
from mektel.app.widgets.timing_popover import TimingPopover
from mektel.app.workbench import Workbench
from mektel.core.kit.edit import identifier
from mektel.core.kit.palette import PaletteValue
from mektel.core.kit.timing import Timing

# The width (px) that a timing's name may take.
LONGEST = 72


class TimingPanel(QWidget):
    """``changed`` is sent with a timing, or None for at once, and whether a drag is going on;
    ``kept`` with the palette entry that it is to become.
    """

    changed = Signal(object, bool)
    drag_ended = Signal()
    shared = Signal()
    kept = Signal(object)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.timing: Timing | None = None
        self.setFixedWidth(212)
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, 0, 0, 0)
        column.setSpacing(GAP_1)
        self.title = PlainLabel(self)
        self.title.setProperty("role", "heading")
        self.title.setWordWrap(True)
        head = QHBoxLayout()
        head.addWidget(self.title, 1)
        self.named = QPushButton(self)
        self.named.setProperty("small", True)
        tip(self.named, "A named timing is edited at one place for all that use it")
        menu = QMenu(self.named)
        menu.aboutToShow.connect(lambda: self._fill(menu))
        self.named.setMenu(menu)
        head.addWidget(self.named)
        column.addLayout(head)
        self.dials = TimingDials(self)
        self.dials.changed.connect(self.changed)
        self.dials.drag_ended.connect(self.drag_ended)
        column.addWidget(self.dials)
        column.addStretch(1)

    def show_timing(self, timing: Timing | None, title: str) -> None:
        self.timing = timing
        self.title.setText(title)
        self.dials.show_timing(timing)
        name = timing.named if timing is not None else None
        shown = self.fontMetrics().elidedText(name or "Name", Qt.TextElideMode.ElideRight, LONGEST)
        self.named.setText(f"{shown}  ▾")
        self.named.setAccessibleName(f"Follows {name}" if name else "Name or share this timing")

    def _fill(self, menu: QMenu) -> None:
        """The named timings, and what can be done with this one."""
        menu.clear()
        timing = self.timing
        for entry in self.bench.kit.values:
            if entry.type == "timing":
                add_action(menu, f"Follow {entry.name}  ({timing_text(entry.value)})",
                           self.changed.emit,
                           entry.value.model_copy(update={"named": entry.name}), False)
        menu.addSeparator()
        if timing is None:
            return
        if timing.named is not None:
            add_action(menu, f"Edit {timing.named}…", self.edit_named)
            add_action(menu, "Detach: keep its values", self.changed.emit, timing.unnamed, False)
        else:
            add_action(menu, "Add to the palette", self._name)
        add_action(menu, "Give it to all controls", self.shared.emit)

    def edit_named(self) -> None:
        """Opens the palette entry that this timing follows."""
        if self.timing is not None and self.timing.named is not None:
            TimingPopover(self.bench, self.timing.named, self).open_below(self.named)

    def _name(self) -> None:
        timing = self.timing
        if timing is None:
            return
        taken = [swatch.name for swatch in self.bench.kit.palette]
        taken += [entry.name for entry in self.bench.kit.values]
        kind = timing.easing if timing.kind == "easing" and timing.easing.isalpha() else timing.kind
        name = identifier(kind, taken, "timing")
        self.kept.emit(PaletteValue(name=name, type="timing", value=timing))
