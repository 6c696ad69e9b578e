"""The loupe: one state large, its view with a header of its own."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mektel.app.build.loupe_view import LoupeView
from mektel.app.build.names import part_name
from mektel.app.theme import GAP_1, GAP_2, GAP_3
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit import edit as edits
from mektel.core.slices import control_insets


class Loupe(QWidget):
    """The view with its own header: which state, zoom, pixels, stretch zones, close."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(6, GAP_1, 6, 0)
        column.setSpacing(GAP_2)
        row = QHBoxLayout()
        row.setSpacing(GAP_2)
        self.heading = PlainLabel(self)
        self.heading.setProperty("role", "heading")
        self.safe = PlainLabel(self)
        self.safe.setProperty("role", "small")
        self.view = LoupeView(bench, self)
        self.smaller = self._button("−", "Smaller (−)", lambda: self.view.zoom_by(-1))
        self.percent = self._button("", "As large as fits (0)", lambda: self.view.zoom_to(0.0))
        self.percent.setFixedWidth(76)
        self.larger = self._button("+", "Larger (+)", lambda: self.view.zoom_by(1))
        self.pixels = self._button("Pixels", "Show single pixels at this density", self._pixels)
        self.zones = self._button("Stretch zones", "What stretches, and what keeps its form",
                                  self._zones)
        self.compute = self._button("Compute", "Discard the zones set by hand", self._compute)
        self.close_button = self._button("Close", "Back to the wall (Esc)",
                                         lambda: bench.view(loupe=""))
        for button in (self.pixels, self.zones):
            button.setCheckable(True)
        row.addWidget(self.heading)
        row.addSpacing(GAP_3)
        row.addWidget(self.safe, 1)
        for widget in (self.compute, self.zones, self.pixels):
            row.addWidget(widget)
        row.addSpacing(GAP_2)
        for widget in (self.smaller, self.percent, self.larger):
            row.addWidget(widget)
        row.addSpacing(GAP_2)
        row.addWidget(self.close_button)
        column.addLayout(row)
        column.addWidget(self.view, 1)
        self.view.zoomed.connect(self.refresh)
        bench.kit_changed.connect(self.refresh)
        bench.selected_changed.connect(self._other_part)
        bench.view_changed.connect(self.refresh)

    def _button(self, text: str, said: str, act: object) -> QPushButton:
        button = QPushButton(text, self)
        tip(button, said)
        button.setProperty("small", True)
        button.clicked.connect(act)
        return button

    def _other_part(self) -> None:
        self.view.selected = ""
        self.refresh()

    def _pixels(self) -> None:
        self.view.pixels = self.pixels.isChecked()
        self.view.update()

    def _zones(self) -> None:
        self.view.zones = self.zones.isChecked()
        self.refresh()

    def _compute(self) -> None:
        control_id = self.bench.control_id
        self.bench.edit("stretch zones computed",
                        lambda kit: edits.set_field(kit, control_id, "slices", None))

    def refresh(self) -> None:
        control = self.bench.control
        if control is None or not self.bench.selection.loupe:
            return
        part = part_name(control, self.bench.part_id)
        self.heading.setText(f"{control.name}, {self.bench.state}: {part.lower()}")
        self.percent.setText(f"{self.view.scale * 100:.0f} %")
        self.compute.setVisible(control.slices is not None and self.view.zones)
        text = ""
        if self.view.zones:
            zones = control_insets(self.bench.kit, control)
            width, height = zones.smallest
            how = "set by hand" if zones.by_hand else "computed"
            text = f"{how}; corners keep their form from {width:g} × {height:g} px"
        elif not self.view.shown():
            text = "nothing to drag here: this layer has no places on the picture"
        self.safe.setText(text)
        self.view.update()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        self.refresh()
