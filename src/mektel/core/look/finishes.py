"""Finishes: ways of drawing every control of a kit, swapped in one step.

A finish is a function ``(kit, control) -> control`` that gets a control of plain values and returns
one that is drawn instead; the document stays as it is. More are found as plug-ins under the entry
point group ``mektel.finishes``.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from importlib.metadata import entry_points

from mektel.core.formula import colours
from mektel.core.kit import Control, Fill, Kit, Shadow
from mektel.core.kit.layers import LayerBase

GROUP = "mektel.finishes"
AS_DRAWN = ""
Finish = Callable[[Kit, Control], Control]
THICK = 5.0


def flat(kit: Kit, control: Control) -> Control:
    """One colour per face, no shadows, no light on edges."""
    gone = ("shadow", "inner-shadow", "inner-glow", "bevel", "gloss")
    layers = tuple(_one_colour(layer) for layer in control.layers if layer.kind not in gone)
    ids = {layer.id for layer in layers} | {"outline"}
    states = {
        condition: {
            part: _plain_colour(values) if part != "outline" else values
            for part, values in parts.items() if part in ids}
        for condition, parts in control.states.items()}
    return control.model_copy(update={"layers": layers, "states": states})


def thick(kit: Kit, control: Control) -> Control:
    """The face stands on a darker base that a press brings it down to."""
    fills = [layer for layer in control.layers if isinstance(layer, Fill) and layer.visible]
    if not fills:
        return control
    first = fills[0]
    colour = kit.colour(first.stops[-1].colour if first.style != "solid" else first.colour)
    base = Shadow(id="thick-base", name="Base", offset=(0.0, THICK), blur=0.0,
                  colour=colours.darken(colour[:7], 0.16))
    layers = tuple(layer for layer in control.layers if layer.kind != "shadow")
    states = {condition: {part: values for part, values in parts.items()
                          if part in {layer.id for layer in layers} | {"outline"}}
              for condition, parts in control.states.items()}
    pressed = dict(states.get("pressed", {}))
    pressed["outline"] = {**pressed.get("outline", {}), "offset": (0.0, THICK - 1)}
    pressed["thick-base"] = {"offset": (0.0, 1.0)}
    at = control.layers.index(first)
    at = min(at, len(layers))
    return control.model_copy(update={
        "layers": (base, *layers), "states": {**states, "pressed": pressed}})


def _one_colour(layer: LayerBase) -> LayerBase:
    if isinstance(layer, Fill) and layer.style != "solid":
        middle = layer.stops[len(layer.stops) // 2].colour
        return layer.model_copy(update={"style": "solid", "colour": middle})
    return layer


def _plain_colour(values: dict[str, object]) -> dict[str, object]:
    stops = values.get("stops")
    if not isinstance(stops, tuple):
        return values
    kept = {name: value for name, value in values.items() if name not in ("stops", "style")}
    return {**kept, "colour": stops[len(stops) // 2].colour}


BUILT_IN: dict[str, Finish] = {"flat": flat, "thick": thick}


@lru_cache(maxsize=1)
def finishes() -> dict[str, Finish]:
    """Every finish by name: those that ship, and the plug-ins that could be loaded."""
    installed = dict(BUILT_IN)
    for point in entry_points(group=GROUP):
        try:
            finish = point.load()
        except Exception:
            continue  # a plug-in that does not load is as one that is not there
        if callable(finish):
            installed.setdefault(point.name, finish)
    return installed


def finish_text(name: str) -> str:
    """What a finish does, in the first line of its own description."""
    finish = finishes().get(name)
    text = (finish.__doc__ or "").strip() if finish else ""
    return text.splitlines()[0] if text else ""


def drawn_as(kit: Kit, control: Control) -> Control:
    """The control as the kit's finish draws it; as it is where the finish is not there or fails."""
    finish = finishes().get(kit.finish)
    if finish is None:
        return control
    try:
        made = _with_all_layers(control, _with_content_of(finish(kit, control)))
        # A plug-in may return anything: what breaks a rule of the document is not drawn.
        return Control.model_validate(dict(made))
    except Exception:
        return control


def _with_all_layers(control: Control, made: Control) -> Control:
    """What a finish leaves out is there, hidden: formulas and targets refer to it."""
    there = {layer.id for layer in made.layers}
    layers = list(made.layers)
    before = ""
    for layer in control.layers:
        if layer.id not in there:
            at = next((n + 1 for n, layer in enumerate(layers) if layer.id == before), 0)
            layers.insert(at, layer.model_copy(update={"visible": False}))
        before = layer.id
    return made.model_copy(update={"layers": tuple(layers)})


def _with_content_of(made: Control) -> Control:
    """A finish may leave layers out: what is left of the content is laid out."""
    if made.content is None:
        return made
    ids = {layer.id for layer in made.layers}
    items = tuple(item for item in made.content.items if item in ids)
    return made.model_copy(update={
        "content": made.content.model_copy(update={"items": items})})


def finish_problem(kit: Kit) -> str:
    """Why the kit's finish is not drawn; empty if it is, or none is wanted."""
    if not kit.finish:
        return ""
    if kit.finish not in finishes():
        known = ", ".join(finishes())
        return f"The finish “{kit.finish}” is not installed. Available: {known}."
    return ""
