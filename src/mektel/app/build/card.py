"""The open card: all dials of one layer, in columns, full width."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.words import CHOICES, PARTS, VALUE_WORDS, as_words, part_name, step_name
from mektel.app.parts.colour import ColourDial
from mektel.app.parts.dials import (
    AngleDial,
    ChoiceDial,
    Dial,
    NumberDial,
    NumbersDial,
    TextDial,
    YesNoDial,
)
from mektel.app.parts.gradient import GradientBar
from mektel.app.theme import GAP_2, GAP_4
from mektel.app.workbench import Workbench
from mektel.core.kit import BODY, REST, SHOWN_STATES, Control, Measure, Stop, measure_of
from mektel.core.kit import edit as edits

# Which dials stand in which column, by the kind of layer.
COLUMNS: dict[str, list[tuple[str, list[str]]]] = {
    "body": [("Outline", ["form", "radii"]), ("Room", ["=size", "padding", "offset"])],
    "shadow": [("Shadow", ["colour", "blur", "spread"]), ("Place", ["offset"]),
               ("Layer", ["visible", "opacity"])],
    "inner-shadow": [("Inner shadow", ["colour", "blur", "spread"]), ("Place", ["offset"]),
                     ("Layer", ["visible", "opacity"])],
    "fill": [("Fill", ["style", "colour", "=gradient", "angle"]), ("Outline", ["grow"]),
             ("Layer", ["visible", "opacity"])],
    "line": [("Line", ["colour", "width"]), ("Place", ["place", "gap"]),
             ("Layer", ["visible", "opacity"])],
    "label": [("Text", ["=text", "colour", "size", "weight"]), ("Place", ["align", "shift"]),
              ("Layer", ["visible", "opacity"])],
}
EXTENT = Measure("px", 4, 2000)
PLACE_ON_LINE = Measure("%", -2, 3, 0.01, 3)


class OpenCard(QFrame):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("openCard")
        self.bench = bench
        self.dials: dict[str, Dial] = {}
        self.gradient: GradientBar | None = None
        self._built_for: tuple[Any, ...] = ()
        self._outer = QHBoxLayout(self)
        self._outer.setContentsMargins(GAP_4 - 8, GAP_2, GAP_4, GAP_2)
        self._body: QWidget | None = None
        self.setFixedHeight(172)

    # What is held

    def _part(self) -> Any:
        control = self.bench.control
        assert control is not None
        return control.part_in(self.bench.part_id, {self.bench.state} - {REST})

    def refresh(self) -> None:
        control = self.bench.control
        if control is None:
            return
        part = self._part()
        kind = "body" if self.bench.part_id == BODY else part.kind
        shape = (control.id, self.bench.part_id, kind, getattr(part, "style", ""),
                 getattr(part, "form", ""))
        if shape != self._built_for:
            self._built_for = shape
            self._build(kind, part)
        self._show(control, part)

    # Building

    def _build(self, kind: str, part: Any) -> None:
        focus = self.focusWidget()
        focused = focus.accessibleName() if focus is not None and self._body else ""
        if self._body is not None:
            self._body.hide()
            self._body.deleteLater()
        self.dials, self.gradient = {}, None
        self._body = QWidget(self)
        self._outer.addWidget(self._body)
        row = QHBoxLayout(self._body)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(GAP_4)
        for title, names in COLUMNS[kind]:
            many = len(names) > 1 and title in ("Fill", "Text", "Outline")
            wide = 5 if many else 4
            row.addLayout(self._column(title, [n for n in names if self._has(n, part)], part), wide)
        self._differs = QGridLayout()
        self._told: list[tuple[str, list[str]]] | None = None
        row.addLayout(self._last_column(kind), 4)
        if focused:
            for child in self._body.findChildren(QWidget):
                if child.accessibleName() == focused:
                    child.setFocus()
                    break

    def _has(self, name: str, part: Any) -> bool:
        """Dials that do not apply are not there: no angle without a gradient."""
        style = getattr(part, "style", None)
        if style == "solid" and name in ("=gradient", "angle"):
            return False
        if style == "linear" and name == "colour":
            return False
        return not (name == "radii" and part.form != "box")

    def _column(self, title: str, names: list[str], part: Any) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self._heading(title))
        column.addSpacing(4)
        for name in names:
            if name == "=gradient":
                self._add_gradient(column)
            else:
                column.addWidget(self._add_dial(name, part))
        column.addStretch(1)
        return column

    def _heading(self, words: str) -> QLabel:
        label = QLabel(words, self)
        label.setProperty("role", "heading")
        label.setContentsMargins(GAP_2, 0, 0, 0)
        return label

    def _add_dial(self, name: str, part: Any) -> Dial:
        if name == "=text":
            dial: Dial = TextDial("Text", self)
            self._wire_field(dial, "text", "label text")
        elif name == "=size":
            dial = NumbersDial("Size", EXTENT, ["width", "height"], self)
            self._wire_field(dial, "size", "size")
        else:
            dial = self._value_dial(name, part)
            dial.changed.connect(lambda value, drag, name=name: self._set(name, value, drag))
            dial.drag_ended.connect(self.bench.end_drag)
            dial.back_to_rest.connect(lambda name=name: self._clear(name))
        self.dials[name] = dial
        return dial

    def _value_dial(self, name: str, part: Any) -> Dial:
        words = VALUE_WORDS[name]
        if name in CHOICES:
            return ChoiceDial(words, CHOICES[name], self)
        if name == "visible":
            return YesNoDial(words, "● shown", "○ hidden", self)
        if name == "colour":
            return ColourDial(words, self)
        if name in PARTS:
            return NumbersDial(words, measure_of(type(part), name), PARTS[name], self)
        if name == "angle":
            return AngleDial(words, measure_of(type(part), name), self)
        return NumberDial(words, measure_of(type(part), name), self)

    def _add_gradient(self, column: QVBoxLayout) -> None:
        bar = GradientBar(self)
        bar.changed.connect(lambda stops, drag: self._set("stops", stops, drag))
        bar.drag_ended.connect(self.bench.end_drag)
        bar.held_changed.connect(lambda _at: self.refresh())
        column.addWidget(bar)
        self.gradient = bar
        colour = ColourDial("Stop", self)
        place = NumberDial("At", PLACE_ON_LINE, self)
        colour.changed.connect(lambda value, drag: self._set_stop(drag, colour=value))
        place.changed.connect(lambda value, drag: self._set_stop(drag, position=value))
        for dial in (colour, place):
            dial.drag_ended.connect(self.bench.end_drag)
            dial.back_to_rest.connect(lambda: self._clear("stops"))
        pair = QHBoxLayout()
        pair.setSpacing(0)
        colour.label.setFixedWidth(30)
        place.label.setFixedWidth(18)
        pair.addWidget(colour, 3)
        pair.addWidget(place, 2)
        column.addLayout(pair)
        self.dials["=stop"], self.dials["=at"] = colour, place

    def _wire_field(self, dial: Dial, field: str, words: str) -> None:
        def take(value: Any, drag: bool) -> None:
            control_id = self.bench.control_id
            self.bench.edit(
                words, lambda kit: edits.set_field(kit, control_id, field, value),
                (control_id, field) if drag else None,
            )

        dial.changed.connect(take)
        dial.drag_ended.connect(self.bench.end_drag)

    def _last_column(self, kind: str) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self._heading("Differs in"))
        column.addSpacing(4)
        self._differs.setContentsMargins(GAP_2, 0, 0, 0)
        self._differs.setVerticalSpacing(0)
        column.addLayout(self._differs)
        column.addStretch(1)
        self._name: QLineEdit | None = None
        if kind != "body":
            self._name = QLineEdit(self)
            self._name.setAccessibleName("Layer name")
            self._name.setToolTip("The layer’s name")
            self._name.setMaxLength(80)
            self._name.editingFinished.connect(self._rename)
            more = QPushButton("⋯", self)
            more.setObjectName("quiet")
            more.setAccessibleName("More for this layer")
            more.setToolTip("Move, copy or remove this layer")
            more.clicked.connect(lambda: self._more(more))
            foot = QHBoxLayout()
            foot.setContentsMargins(GAP_2, 0, 0, 0)
            foot.addWidget(self._name, 1)
            foot.addWidget(more)
            column.addLayout(foot)
        return column

    def _more(self, button: QPushButton) -> None:
        from mektel.app.build.strip import layer_menu

        menu = layer_menu(self.bench, self.bench.part_id, button)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    # Showing

    def _show(self, control: Control, part: Any) -> None:
        changes = control.changes(self.bench.state).get(self.bench.part_id, {})
        rest = control.part(self.bench.part_id)
        for name, dial in self.dials.items():
            if name == "=text":
                dial.show_value(control.text)  # type: ignore[attr-defined]
            elif name == "=size":
                dial.show_value(control.size)  # type: ignore[attr-defined]
            elif name in ("=stop", "=at"):
                assert self.gradient is not None
                self.gradient.show_value(part.stops, self.bench.kit)
                stop = part.stops[self.gradient.held]
                if isinstance(dial, ColourDial):
                    dial.show_value(stop.colour, self.bench.kit)
                else:
                    dial.show_value(stop.position)  # type: ignore[attr-defined]
                dial.set_differs("stops" in changes, as_words("stops", rest.stops))
            else:
                value = getattr(part, name)
                if isinstance(dial, ColourDial):
                    dial.show_value(value, self.bench.kit)
                else:
                    dial.show_value(value)  # type: ignore[attr-defined]
                dial.set_differs(name in changes, as_words(name, getattr(rest, name)))
        if self._name is not None and not self._name.isModified():
            self._name.setText(part_name(control, self.bench.part_id))
        self._show_differs(control)

    def _show_differs(self, control: Control) -> None:
        told = [
            (state, list(control.changes(state).get(self.bench.part_id, {})))
            for state in SHOWN_STATES[1:]
        ]
        if told == self._told:
            return
        self._told = told
        while self._differs.count():
            item = self._differs.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        row = 0
        for state, values in told:
            if not values:
                continue
            name = QLabel(state, self)
            name.setProperty("role", "dim")
            words = ", ".join(VALUE_WORDS[value].lower() for value in values)
            back = QPushButton(f"{words} ↺", self)
            back.setObjectName("quiet")
            back.setToolTip(f"Back to rest in {state}")
            back.setStyleSheet("text-align: left;")
            back.clicked.connect(lambda _=False, state=state: self._clear(None, state))
            self._differs.addWidget(name, row, 0)
            self._differs.addWidget(back, row, 1)
            row += 1
        if not row:
            same = QLabel("the same in every state", self)
            same.setProperty("role", "dim")
            self._differs.addWidget(same, 0, 0, Qt.AlignmentFlag.AlignTop)
        self._differs.setColumnStretch(1, 1)

    # Editing

    def _set(self, name: str, value: Any, drag: bool) -> None:
        control = self.bench.control
        assert control is not None
        words = step_name(control, self.bench.part_id, name)
        if not self.bench.set_value(self.bench.part_id, name, value, words, drag):
            self.refresh()

    def _set_stop(self, drag: bool, **values: Any) -> None:
        assert self.gradient is not None
        stops = list(self._part().stops)
        held = self.gradient.held
        stops[held] = Stop(**{**dict(stops[held]), **values})
        ordered = sorted(stops, key=lambda stop: stop.position)
        self.gradient.held = ordered.index(stops[held])
        self._set("stops", tuple(ordered), drag)

    def _clear(self, name: str | None, state: str | None = None) -> None:
        control = self.bench.control
        assert control is not None
        part_id, held = self.bench.part_id, state or self.bench.state
        self.bench.edit(
            f"{part_name(control, part_id).lower()} back to rest in {held}",
            lambda kit: edits.clear_changes(kit, control.id, held, part_id, name),
        )

    def _rename(self) -> None:
        control = self.bench.control
        if control is None or self._name is None or not self._name.isModified():
            return
        self._name.setModified(False)
        title, layer_id = self._name.text().strip(), self.bench.part_id
        if title and title != control.layer(layer_id).name:
            self.bench.edit(
                f"rename {control.layer(layer_id).name.lower()}",
                lambda kit: edits.rename_layer(kit, control.id, layer_id, title),
            )


