"""What an instance may set: checked arguments, properties, and values that follow them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from .design import Part
from .qt import Property, QtGui

# What a property is to Qt; a text otherwise.
TYPES: dict[str, type] = {
    "number": float, "length": float, "duration": float, "yes-no": bool, "colour": QtGui.QColor,
    "colours": list,
}


def value(name: str, kind: str, changed: Any = None, help_text: str = "") -> Any:
    """A Qt property of a control that is one of its parameters; ``changed`` is its signal."""
    signal = {} if changed is None else {"notify": changed}
    return Property(
        TYPES.get(kind, str), lambda control: qt_value(control, name),
        lambda control, given: control.set_argument(name, given), doc=help_text, **signal)


def qt_value(control: Any, name: str) -> Any:
    """A parameter's value as Qt has it: colours as QColor."""
    kind = control.design.parameters[name][0]
    given = control._given.get(name)
    if given is None:
        return TYPES.get(kind, str)()
    if kind == "colour":
        return QtGui.QColor(qt_colour(given))
    return [QtGui.QColor(qt_colour(colour)) for colour in given] if kind == "colours" else given


def action(name: str) -> Callable[[Any, Callable[[], object] | None], None]:
    """A method of a control that sets what a press calls; None for nothing."""
    def set_action(control: Any, act: Callable[[], object] | None) -> None:
        control.set_action(name, act)

    set_action.__doc__ = "What a press calls; None for nothing."
    return set_action


def checked(name: str, given: Any, takes: tuple[Any, ...]) -> Any:
    """An argument as its parameter takes it; raises TypeError or ValueError.

    ``takes`` is its type, lowest, highest and choices.
    """
    kind, low, high, choices = takes
    if kind in ("number", "length", "duration"):
        if isinstance(given, bool) or not isinstance(given, (int, float)):
            raise TypeError(f"{name} must be a number, not {given!r}")
        if (low is not None and given < low) or (high is not None and given > high):
            raise ValueError(f"{name} must be from {low} to {high}, not {given!r}")
        return float(given)
    if kind == "yes-no":
        if not isinstance(given, bool):
            raise TypeError(f"{name} must be True or False, not {given!r}")
        return given
    if kind in ("colour", "colours"):
        many = [given] if kind == "colour" else list(given)
        for colour in many:
            if not isinstance(colour, (str, QtGui.QColor)) or not QtGui.QColor(colour).isValid():
                raise ValueError(f"{name} must be a colour such as '#2F8C93', not {colour!r}")
        many = [css_colour(colour) for colour in many]
        return many[0] if kind == "colour" else tuple(many)
    if not isinstance(given, str):
        raise TypeError(f"{name} must be a text, not {given!r}")
    if kind == "picture" and given and QtGui.QImage(given).isNull():
        raise ValueError(f"{name} must be the path of a picture, not {given!r}")
    if choices and given not in choices:
        raise ValueError(f"{name} must be one of {choices}, not {given!r}")
    return given


def css_colour(colour: str | QtGui.QColor) -> str:
    """#RRGGBB or #RRGGBBAA; a text with eight digits is taken as that already."""
    if isinstance(colour, str) and len(colour) == 9:
        return colour.upper()
    made = QtGui.QColor(colour)
    text = made.name().upper()
    return text if made.alpha() == 255 else f"{text}{made.alpha():02X}"


def qt_colour(colour: str) -> str:
    """Qt writes alpha first."""
    return f"#{colour[7:9]}{colour[1:7]}" if len(colour) == 9 else colour


def stops_of(colours: tuple[str, ...]) -> list[tuple[float, str]]:
    """Colours as a gradient's stops, evenly apart."""
    last = max(1, len(colours) - 1)
    stops = [(at / last, qt_colour(colour)) for at, colour in enumerate(colours)]
    return stops if len(stops) > 1 else [*stops, (1.0, stops[0][1])]


def put(values: Part, rest: Part, path: tuple[str | int, ...], given: Any) -> None:
    """Lays a value in at a path; what is beside it stays as it is there, or at rest."""
    name, *steps = path
    assert isinstance(name, str)
    values[name] = _laid(values.get(name, rest.get(name)), steps, given)


def _laid(whole: Any, steps: list[str | int], given: Any) -> Any:
    if not steps:
        return given
    step, *more = steps
    if isinstance(whole, dict):
        return {**whole, step: _laid(whole[step], more, given)}
    made = list(whole)
    made[step] = _laid(made[step], more, given)  # type: ignore[index]
    return tuple(made)
