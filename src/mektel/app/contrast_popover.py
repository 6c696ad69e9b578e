"""Where contrast fails, state by state, and the nearest colours in which the label can be read."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from mektel.app.theme import GAP_1, GAP_3
from mektel.app.widgets.contrast_sample import ContrastSample
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.plain import PlainLabel
from mektel.app.widgets.popover import Popover
from mektel.app.workbench import Workbench
from mektel.core.proof import (
    LabelContrast,
    ReadableColour,
    readable_colours,
    with_label_colour,
)

WIDE = 284
UNREADABLE = ("No single colour can be read on this face: it is both too light and too dark. Make "
              "its colours more alike, or give the label an edge.")


class ContrastPopover(Popover):
    """Choose a state to go there; choose a colour to give it to the label in that state."""

    def __init__(self, bench: Workbench, measured: dict[str, LabelContrast],
                 parent: QWidget) -> None:
        super().__init__(parent)
        self.bench, self.measured = bench, measured
        self.setFixedWidth(WIDE)
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_1)
        column.addWidget(self._text("Contrast of label on face", "heading"))
        self.states: dict[str, ContrastSample] = {}
        for state in sorted(measured, key=lambda state: measured[state].passes):
            row = ContrastSample(state, "", "dim", "#000000", "#FFFFFF", self)
            row.setCheckable(True)
            row.clicked.connect(lambda _=False, state=state: self.go_to(state))
            column.addWidget(row)
            self.states[state] = row
        column.addSpacing(GAP_1)
        self.advice = self._text("", "small")
        column.addWidget(self.advice)
        self._below = QVBoxLayout()
        self._below.setSpacing(GAP_1)
        column.addLayout(self._below)
        self.offers: list[ContrastSample] = []
        self._offered: list[ReadableColour] = []
        self.go_to(min(measured, key=lambda state: measured[state].ratio / measured[state].needed))

    def show_measured(self, measured: dict[str, LabelContrast]) -> None:
        """The kit changed, and so has what can be read."""
        if measured.keys() != self.states.keys():
            self.close()
            return
        self.measured = measured
        self._show()

    def go_to(self, state: str) -> None:
        """Selects the state, and the layer whose text is hard to read there."""
        self.state = state
        self.bench.select(state=state, part_id=self.measured[state].layer)
        self._show()

    def _show(self) -> None:
        for state, row in self.states.items():
            measured = self.measured[state]
            row.show_contrast(f"{measured.shown} of {measured.needed:g}",
                              "good" if measured.passes else "bad", measured.ink, measured.ground)
            row.setChecked(state == self.state)
        control, measured = self.bench.control, self.measured[self.state]
        offers: list[ReadableColour] = []
        if measured.passes:
            advice = f"The label can be read in {self.state}."
        elif control is None or measured.layer not in {layer.id for layer in control.layers}:
            advice = "The label is gone."
        elif control.part(measured.layer).kind != "label":
            advice = "The label belongs to an embedded control: mend it there."
        else:
            offers = readable_colours(self.bench.drawn, measured)
            advice = f"Nearest colours that pass in {self.state}:" if offers else UNREADABLE
        self.advice.setText(advice)
        self._show_offers(offers)
        self.adjustSize()

    def _show_offers(self, offers: list[ReadableColour]) -> None:
        if offers == self._offered:
            return
        self._offered, self.offers = offers, []
        empty(self._below)
        for offer in offers:
            row = ContrastSample(offer.value, f"{int(offer.ratio * 10) / 10:.1f}", "good",
                                 offer.colour, self.measured[self.state].ground, self)
            row.clicked.connect(lambda _=False, value=offer.value: self._take(value))
            self._below.addWidget(row)
            self.offers.append(row)

    def _text(self, text: str, role: str) -> QLabel:
        label = PlainLabel(text, self)
        label.setProperty("role", role)
        label.setWordWrap(True)
        return label

    def _take(self, value: str) -> None:
        control_id, state = self.bench.control_id, self.state
        layer = self.measured[state].layer
        self.bench.edit(f"label colour in {state}", lambda kit: with_label_colour(
            kit, control_id, state, layer, value))
