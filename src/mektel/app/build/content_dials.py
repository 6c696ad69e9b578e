"""Dials of the control's content: how label, icon and the like are laid out."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QWidget

from mektel.app.widgets.dials import ChoiceDial, Dial
from mektel.app.widgets.number_dials import NumberDial, NumbersDial
from mektel.app.widgets.plain import tip
from mektel.app.workbench import Workbench
from mektel.core.kit import Control, Measure, edit, measure_of
from mektel.core.kit.content import Content
from mektel.core.kit.state_edits import CONTENT_KINDS
from mektel.core.kit.value_types import LARGEST

PREFIX = "=content-"
NO_LIMIT = Measure("px", 0, LARGEST)
BOUNDS = {"min": "At least", "max": "At most"}
CHOICES: dict[str, tuple[str, list[tuple[Any, str]]]] = {
    "flow": ("Layout", [("", "each on its own"), ("row", "in a row"), ("column", "in a column"),
                        ("stack", "stacked")]),
    "place": ("Along", [("start", "at the start"), ("centre", "in the middle"),
                         ("end", "at the end")]),
    "align": ("Across", [("start", "at the start"), ("centre", "in the middle"),
                         ("end", "at the end"), ("baseline", "on the baseline")]),
    "sizing": ("Size", [("fit", "grows to fit"), ("own", "its own")]),
}


def content_dial(name: str, bench: Workbench, parent: QWidget) -> Dial:
    """A dial of the content; ``name`` begins with ``PREFIX``."""
    field = name.removeprefix(PREFIX)
    if field == "gap":
        dial: Dial = NumberDial("Gap", measure_of(Content, "gap"), parent)
    elif field in BOUNDS:
        dial = NumbersDial(BOUNDS[field], NO_LIMIT, ["width", "height"], parent)
        tip(dial, "How far it grows to fit its content; 0 for no limit")
    else:
        title, choices = CHOICES[field]
        dial = ChoiceDial(title, choices, parent)
    dial.changed.connect(lambda value, drag: _set(bench, field, value, drag))
    dial.drag_ended.connect(bench.end_drag)
    return dial


def show_content(dial: Dial, name: str, control: Control) -> None:
    field = name.removeprefix(PREFIX)
    content = control.content
    if field == "flow":
        dial.show_value(content.flow if content else "")  # type: ignore[attr-defined]
    else:
        value = getattr(content or Content(), field)
        if field in BOUNDS:
            value = tuple(0.0 if side in (4.0, LARGEST) else side for side in value or (0.0, 0.0))
        dial.show_value(value)  # type: ignore[attr-defined]
        dial.setEnabled(content is not None)


def _set(bench: Workbench, field: str, value: Any, drag: bool) -> None:
    control = bench.control
    if control is None:
        return
    if field == "flow" and not value:
        content = None
    else:
        items = tuple(layer.id for layer in control.layers if is_content(layer))
        now = control.content or Content(items=items)
        if field in BOUNDS:
            free = 4.0 if field == "min" else LARGEST
            value = None if not any(value) else tuple(
                max(4.0, length) if length else free for length in value)
        content = now.model_copy(update={field: value, "items": items})
    bench.edit(f"content {field}",
               lambda kit: edit.set_field(kit, control.id, "content", content),
               (control.id, "content", field) if drag else None)


def is_content(layer: Any) -> bool:
    """Whether a layer can be laid out: it has a size of its own."""
    if layer.kind in ("picture", "progress"):
        return layer.outline is not None
    return layer.kind in CONTENT_KINDS
