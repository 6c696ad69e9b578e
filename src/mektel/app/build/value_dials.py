"""The dial for a value: by its name, its type and its limits."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QWidget

from mektel.app.build.names import PARTS, YES_NO, choices_of, value_words
from mektel.app.build.picture_dial import PictureDial
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import (
    AngleDial,
    ChoiceDial,
    CommittedTextDial,
    Dial,
    NumberDial,
    NumbersDial,
    SpanDial,
    TextDial,
    YesNoDial,
)
from mektel.app.widgets.pick import PickDial
from mektel.app.workbench import Workbench
from mektel.core.kit import Control, HeldLook, Kit, measure_of
from mektel.core.look import holdable

ANGLES = ("angle", "light", "rotate")


def owner_of(part: Any, name: str) -> tuple[Any, str]:
    """Who holds a value: the part, or an outline of its own (``outline.form``)."""
    for step in name.split(".")[:-1]:
        part = getattr(part, step)
    return part, name.split(".")[-1]


def value_dial(name: str, part: Any, bench: Workbench, parent: QWidget) -> Dial:
    owner, inner = owner_of(part, name)
    words = value_words(inner)
    choices = choices_of(inner, owner)
    if isinstance(part, HeldLook) and inner in ("control", "variation"):
        assert bench.control is not None
        choices = what_to_hold(bench.kit, bench.control, part)[inner]
    if choices is not None:
        return ChoiceDial(words, choices, parent)
    if inner == "text":
        return OwnTextDial(words, bench, parent)
    if inner in YES_NO:
        return YesNoDial(words, *YES_NO[inner], parent)
    if inner.endswith("colour"):
        return ColourDial(words, parent)
    if inner in ("icon", "symbol"):
        return PickDial(inner, words, parent)
    if inner == "picture":
        return PictureDial(words, bench, parent)
    if inner == "path":
        return CommittedTextDial(words, parent)
    if inner in ("x", "y") or (inner in ("width", "height") and name != inner):
        return SpanDial(words, parent)
    measure = measure_of(type(owner), inner)
    if inner in PARTS:
        return NumbersDial(words, measure, PARTS[inner], parent)
    return (AngleDial if inner in ANGLES else NumberDial)(words, measure, parent)


class OwnTextDial(TextDial):
    """A text laid in instead of that of the control whose look is held; none where it is empty."""

    def __init__(self, name: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.entry.setPlaceholderText("its own")
        self.entry.textEdited.disconnect()
        self.entry.textEdited.connect(lambda words: self.changed.emit(words or None, True))

    def show_value(self, value: str | None) -> None:
        super().show_value(value or "")


def what_to_hold(kit: Kit, control: Control, part: HeldLook) -> dict[str, list[tuple[Any, str]]]:
    """The controls that a layer may hold, and the variations of the one that it does."""
    found: list[tuple[Any, str]] = [("", "choose one")]
    found += [(one.id, one.name) for one in holdable(kit, control)]
    if part.control not in dict(found):
        found.append((part.control, f"{part.control} (not there)"))
    other = next((one for one in kit.controls if one.id == part.control), None)
    varied = [(one.name, one.name) for one in (other.variations if other else ())]
    return {"control": found, "variation": [("", "as designed"), *varied]}
