"""A design with the values of its formulas, shared by all controls of the same arguments."""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING, Any

from .defaults import usual
from .design import Design, Part, Parts, States
from .frames import Cache
from .labels import EM, metrics_of, shown_text
from .parameters import put
from .qt import QtCore

if TYPE_CHECKING:
    from .control import Control

SHARED, HINTS = 256, 64
ERRORS = (ArithmeticError, LookupError, TypeError, ValueError)


class Variant:
    """The values of every part, at rest and as states change them, and the size in px."""

    def __init__(
        self, rest: Parts, changes: dict[States, Parts], size: tuple[float, ...]
    ) -> None:
        self.rest, self.changes, self.size = rest, changes, size
        self._hints: dict[str, QtCore.QSize] = {}
        self._at_rest = {name: _merged(part) for name, part in rest.items()}
        self._parts: dict[frozenset[str], Parts] = {}

    def parts(self, holding: frozenset[str]) -> Parts:
        """Every part's values while these states hold. What is alike is one object."""
        if holding not in self._parts:
            self._parts[holding] = self._changed(holding)
        return self._parts[holding]

    def _changed(self, holding: frozenset[str]) -> Parts:
        made = {}
        for name, rest in self.rest.items():
            changes = [changed[name] for states, changed in self.changes.items()
                       if name in changed and holding.issuperset(states)]
            made[name] = self._at_rest[name] if not changes else _merged(rest, *changes)
        return made

    def size_for(self, design: Design, text: str) -> QtCore.QSize:
        """The size of the box that a text needs."""
        if text not in self._hints:
            if len(self._hints) >= HINTS:
                self._hints.clear()
            self._hints[text] = self._measured(design, text)
        return QtCore.QSize(self._hints[text])

    def _measured(self, design: Design, text: str) -> QtCore.QSize:
        width, height = self.size
        room_x, room_y = self.rest["outline"]["padding"]
        for label in self.rest.values():
            if label.get("kind") != "label" or "box" in label:
                continue
            if label.get("flow", "one-line") != "one-line":
                continue
            metrics, share = metrics_of(label, design), label["size"] / EM
            lines = shown_text(label, label.get("text", text)).split("\n")
            wide = max(map(metrics.horizontalAdvance, lines)) * share
            beside = 0 if "text" in label else design.beside
            width = max(width, wide + beside + 2 * room_x)
            high = (metrics.ascent() + metrics.descent()) * share * len(lines)
            height = max(height, high + 2 * room_y)
        return QtCore.QSize(ceil(width - 0.01), ceil(height - 0.01))


def _merged(*parts: Part) -> Part:
    values = {key: value for part in parts for key, value in part.items()}
    return {key: value for key, value in values.items() if value is not None}


def as_designed(design: Design) -> Variant:
    rest = {name: {**usual(part.get("kind", name)), **part} for name, part in design.rest.items()}
    return Variant(rest, design.changes, design.size)


_shared: Cache[Variant] = Cache(SHARED, lambda _variant: 1)


def variant_of(control: Control) -> Variant:
    """Where a formula fails, the last good value stays."""
    design = control.design
    if not design.driven:
        return _shared.get(design, lambda: as_designed(design))
    control.follow_text()
    box, around = control.box(), control.parentWidget() or control
    given = {name: value for name, value in control._given.items() if not callable(value)}
    sizes = (box.width(), box.height()) if design.follows_size else ()
    outside = (around.width(), around.height()) if design.follows_parent else ()
    key = (design, tuple(given.items()), control.scheme(), control.plain_text(), sizes, outside)
    failed: list[bool] = []
    made = _shared.get(key, lambda: _worked_out(control, as_designed(design), failed))
    if failed:
        last = control._last_variant or as_designed(design)
        made = _worked_out(control, last, failed)
    control._last_variant = made
    return made


def _worked_out(control: Control, last: Variant, failed: list[bool]) -> Variant:
    box, around, given = control.box(), control.parentWidget() or control, control._given
    size = list(control.design.size)
    rest = {name: dict(part) for name, part in last.rest.items()}
    changes = {states: {name: dict(part) for name, part in parts.items()}
               for states, parts in last.changes.items()}
    for axis, length in control._driven_size(box, around, given).items():
        size[axis] = length
    for states, name, path, make in control._driven_values(box, around, given):
        try:
            value: Any = make()
        except ERRORS:
            failed.append(True)
            continue
        part: Part = rest[name]
        if states:
            part = changes.setdefault(states, {}).setdefault(name, {})
        put(part, rest[name], path, value)
    return Variant(rest, changes, tuple(size))
