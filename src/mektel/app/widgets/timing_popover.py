"""The popover in which a timing of the palette is edited; what follows it moves with it."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.curve_view import CurveView
from mektel.app.widgets.plain import PlainLabel
from mektel.app.widgets.popover import Popover
from mektel.app.widgets.timing_dials import TimingDials
from mektel.app.workbench import Workbench
from mektel.core.kit import palette_edits
from mektel.core.kit.palette import PaletteValue
from mektel.core.kit.timing import Timing
from mektel.core.motion.arrivals import lasts


class TimingPopover(Popover):
    """The curve and the dials of a palette entry; closes by Escape or a click elsewhere."""

    def __init__(self, bench: Workbench, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench, self.name = bench, name
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_2)
        title = PlainLabel(name, self)
        title.setProperty("role", "heading")
        users = palette_edits.users_of(bench.kit, name)
        used = PlainLabel(f"Used by {', '.join(users)}" if users else "Nothing uses it yet", self)
        used.setProperty("role", "small")
        used.setWordWrap(True)
        self.curve = CurveView(self)
        self.curve.setFixedSize(268, 170)
        self.dials = TimingDials(self, may_be_at_once=False)
        for widget in (title, used, self.curve, self.dials):
            column.addWidget(widget)
        for part in (self.curve, self.dials):
            part.changed.connect(self._set)
            part.drag_ended.connect(bench.end_drag)
        self._show()

    @property
    def entry(self) -> PaletteValue:
        return next(entry for entry in self.bench.kit.values if entry.name == self.name)

    def _show(self) -> None:
        timing: Timing = self.entry.value
        self.curve.show_timing(timing, max(0.3, 1.25 * lasts(timing)))
        self.dials.show_timing(timing)
        self.adjustSize()

    def _set(self, timing: Timing, drag: bool) -> None:
        entry = self.entry.model_copy(update={"value": timing.unnamed})
        self.bench.edit(f"timing {self.name}",
                        lambda kit: palette_edits.set_palette_value(kit, entry),
                        ("palette timing", self.name) if drag else None)
        self._show()

    def open_below(self, widget: QWidget) -> None:
        super().open_below(widget)
        self.dials.kind.button.setFocus()

    def closeEvent(self, event: object) -> None:
        self.bench.end_drag()
        super().closeEvent(event)  # type: ignore[arg-type]
