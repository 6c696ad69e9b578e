"""The dial for a value: by its name, its type and its limits."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QWidget

from mektel.app.build.names import PARTS, YES_NO, choices_of, value_title
from mektel.app.build.picture_dial import PictureDial
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import ChoiceDial, CommittedTextDial, Dial, TextDial, YesNoDial
from mektel.app.widgets.number_dials import AngleDial, NumberDial, NumbersDial, SpanDial
from mektel.app.widgets.pick import PickDial
from mektel.app.workbench import Workbench
from mektel.core.kit import Control, EmbeddedLook, Kit, measure_of
from mektel.core.look import embeddable

ANGLES = ("direction", "light", "rotate")


def owner_of(part: Any, name: str) -> tuple[Any, str]:
    """Who holds a value: the part, or an outline of its own (``outline.form``)."""
    for step in name.split(".")[:-1]:
        part = getattr(part, step)
    return part, name.split(".")[-1]


def value_dial(name: str, part: Any, bench: Workbench, parent: QWidget) -> Dial:
    owner, inner = owner_of(part, name)
    title = value_title(inner)
    choices = choices_of(inner, owner)
    if isinstance(part, EmbeddedLook) and inner in ("control", "variation"):
        assert bench.control is not None
        choices = what_to_embed(bench.kit, bench.control, part)[inner]
    if choices is not None:
        return ChoiceDial(title, choices, parent)
    if inner == "text":
        return OwnTextDial(title, bench, parent)
    if inner in YES_NO:
        return YesNoDial(title, *YES_NO[inner], parent)
    if inner.endswith("colour"):
        return ColourDial(title, parent)
    if inner in ("icon", "symbol"):
        return PickDial(inner, title, parent)
    if inner == "picture":
        return PictureDial(title, bench, parent)
    if inner == "path":
        return CommittedTextDial(title, parent)
    if inner in ("x", "y") or (inner in ("width", "height") and name != inner):
        return SpanDial(title, parent)
    measure = measure_of(type(owner), inner)
    if inner in PARTS:
        return NumbersDial(title, measure, PARTS[inner], parent)
    return (AngleDial if inner in ANGLES else NumberDial)(title, measure, parent)


class OwnTextDial(TextDial):
    """A text laid in instead of the embedded control's; none where it is empty."""

    def __init__(self, name: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.entry.setPlaceholderText("its own")
        self.entry.textEdited.disconnect()
        self.entry.textEdited.connect(lambda text: self.changed.emit(text or None, True))

    def show_value(self, value: str | None) -> None:
        super().show_value(value or "")


def what_to_embed(
    kit: Kit, control: Control, part: EmbeddedLook
) -> dict[str, list[tuple[Any, str]]]:
    """The controls that a layer may embed, and the variations of the one that it does."""
    choices: list[tuple[Any, str]] = [("", "choose one")]
    choices += [(other.id, other.name) for other in embeddable(kit, control)]
    if part.control not in dict(choices):
        choices.append((part.control, f"{part.control} (not there)"))
    chosen = next((other for other in kit.controls if other.id == part.control), None)
    varied = [(entry.name, entry.name) for entry in (chosen.variations if chosen else ())]
    return {"control": choices, "variation": [("", "as designed"), *varied]}
