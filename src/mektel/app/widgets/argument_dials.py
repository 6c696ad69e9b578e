"""Editors for a parameter's value, by its type; shared by defaults and arguments."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QLabel, QWidget

from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import ChoiceDial, CommittedTextDial, Dial, YesNoDial
from mektel.app.widgets.number_dials import NumberDial
from mektel.app.widgets.pick import PickDial
from mektel.app.widgets.plain import PlainLabel
from mektel.core.kit import Kit, Measure, Parameter

UNITS = {"length": "px", "duration": "s", "number": ""}
TYPES = [
    ("colour", "colour"), ("colours", "list of colours"), ("number", "number"),
    ("length", "length"), ("duration", "time"), ("text", "text"), ("icon", "icon"),
    ("picture", "picture"), ("choice", "choice"), ("yes-no", "yes or no"), ("font", "font"),
    ("action", "action"),
]
STARTS: dict[str, Any] = {
    "colour": "#2F8C93", "colours": ("#3AA2A8", "#175A66"), "number": 1.0, "length": 8.0,
    "duration": 0.15, "text": "", "icon": "ship", "picture": "", "choice": "one", "yes-no": True,
    "font": "Hanken Grotesk", "action": "",
}


def value_editor(parameter: Parameter, title: str, parent: QWidget) -> Dial | None:
    """A dial for a value of this type, its name hidden; None for an action, which has none."""
    kind = parameter.type
    dial: Dial
    if kind == "action":
        return None
    if kind == "colour":
        dial = ColourDial(title, parent)
    elif kind in UNITS:
        low = parameter.min if parameter.min is not None else -2000.0
        high = parameter.max if parameter.max is not None else 2000.0
        step = 0.05 if high - low <= 5 else 1.0
        dial = NumberDial(title, Measure(UNITS[kind], low, high, step, 2), parent)
    elif kind == "yes-no":
        dial = YesNoDial(title, "✓ yes", "✕ no", parent)
    elif kind == "choice":
        dial = ChoiceDial(title, [(choice, choice) for choice in parameter.allowed], parent)
    elif kind == "icon":
        dial = PickDial("icon", title, parent)
    else:
        dial = CommittedTextDial(title, parent)
    dial.label.hide()
    dial.stand_alone()
    return dial


def show_value(dial: Dial, parameter: Parameter, value: Any, kit: Kit) -> None:
    if isinstance(dial, ColourDial):
        dial.show_value(value, kit)
    elif isinstance(value, tuple):
        dial.show_value(" ".join(value))  # type: ignore[attr-defined]
    else:
        dial.show_value(value)  # type: ignore[attr-defined]


def typed_value(parameter: Parameter, value: Any) -> Any:
    """What a dial gave as the parameter takes it."""
    if parameter.type == "colours" and isinstance(value, str):
        return tuple(value.replace(",", " ").split())
    return value


def small(text: str, parent: QWidget) -> QLabel:
    label = PlainLabel(text, parent)
    label.setProperty("role", "small")
    return label
