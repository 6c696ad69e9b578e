"""How a target draws each layer of a control, and what that means."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLabel, QScrollArea, QWidget

from mektel.app.theme import GAP_1, GAP_2
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.targets import LayerPlan

HOW_ROLE = {"native": "good", "baked": "warn", "partly": "warn", "lost": "bad"}
MEANING = {
    "native": "drawn by the toolkit itself, sharp at any size",
    "baked": "a picture made at export; it stretches, and its values are fixed",
    "partly": "drawn, but for what is said beside it",
    "lost": "this target has nothing for it",
}


class PlanView(QScrollArea):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget(self)
        self._rows = QGridLayout(inside)
        self._rows.setContentsMargins(0, 0, GAP_2, 0)
        self._rows.setVerticalSpacing(GAP_1)
        self._rows.setColumnStretch(0, 1)
        self.setWidget(inside)

    def clear(self) -> None:
        empty(self._rows)

    def show_plans(self, plans: list[LayerPlan]) -> None:
        """A row per layer; below, what the terms among them mean."""
        self.clear()
        for row, plan in enumerate(plans):
            how = self._label(plan.how, HOW_ROLE[plan.how])
            tip(how, f"{plan.how}: {MEANING[plan.how]}")
            name = PlainLabel(plan.layer, self)
            name.setWordWrap(True)
            self._rows.addWidget(name, row * 2, 0)
            self._rows.addWidget(how, row * 2, 1)
            if plan.why:
                self._add_note(row * 2 + 1, plan.why)
        last = 2 * len(plans)
        self._rows.setRowMinimumHeight(last, GAP_2)
        for at, term in enumerate(HOW_ROLE, 1):
            if any(plan.how == term for plan in plans):
                self._add_note(last + at, f"{term}: {MEANING[term]}")
        self._rows.setRowStretch(last + 20, 1)

    def _label(self, text: str, role: str) -> QLabel:
        label = PlainLabel(text, self)
        label.setProperty("role", role)
        return label

    def _add_note(self, row: int, text: str) -> None:
        note = self._label(text, "small")
        note.setWordWrap(True)
        self._rows.addWidget(note, row, 0, 1, 2)
