"""The colour dial, a swatch, and the track that colours are slid along."""

from __future__ import annotations

from PySide6.QtWidgets import QLineEdit, QWidget

from mektel.app.theme import GAP_1, GAP_4
from mektel.app.widgets.colour_popover import ColourPopover
from mektel.app.widgets.colour_swatch import Swatch
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.plain import tip
from mektel.core.colour import ColourError, colour_from_text
from mektel.core.kit import Kit


class ColourDial(Dial):
    """A swatch that opens the popover, and the colour’s name or hex to type over."""

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(name, parent)
        self._kit = Kit()
        self._beside = ""
        self.value = "#000000"
        self.swatch = Swatch(f"{name}: choose", self, 20)
        self.swatch.clicked.connect(self.open)
        self.entry = QLineEdit(self)
        self.entry.setAccessibleName(name)
        self.entry.ensurePolished()
        self.entry.setMinimumWidth(self.entry.fontMetrics().horizontalAdvance("#DDDDDD00") + GAP_4)
        self._row.setSpacing(GAP_1)
        self._row.addWidget(self.swatch)
        self._row.addWidget(self.entry, 1)
        self.entry.editingFinished.connect(self._take_typed)

    def show_value(self, value: str, kit: Kit, beside: str = "") -> None:
        """``beside`` is the colour that this one is judged against, or empty."""
        self._kit, self.value, self._beside = kit, value, beside
        self.swatch.show_colour(kit.colour(value))
        tip(self.swatch, kit.colour(value))
        if not (self.entry.hasFocus() and self.entry.isModified()):
            self.entry.setText(value)
            self.entry.setCursorPosition(0)  # where room is short, its beginning is seen
            self._mark(False)

    def open(self) -> None:
        popover = ColourPopover(self._kit, self.value, self._beside, self)
        popover.changed.connect(lambda value, drag: self.changed.emit(value, drag))
        popover.drag_ended.connect(self.drag_ended)
        popover.open_below(self.swatch)

    def _take_typed(self) -> None:
        if not self.entry.isModified():
            return
        typed = self.entry.text().strip()
        try:
            known = {swatch.name for swatch in self._kit.palette}
            value = typed if typed in known else colour_from_text(typed)
        except ColourError as error:
            self._mark(True, str(error))
            return
        self.entry.setModified(False)
        self.changed.emit(value, False)

    def _mark(self, wrong: bool, why: str = "") -> None:
        if bool(self.entry.property("wrong")) != wrong:
            self.entry.setProperty("wrong", wrong)
            self.entry.style().polish(self.entry)
        tip(self.entry, why)
