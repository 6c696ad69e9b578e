"""Proposing hover, pressed, focus and disabled from rest."""

from __future__ import annotations

from typing import Any

from mektel.core.colour import lighter, washed_out
from mektel.core.kit import OUTLINE, Control, Fill, InnerShadow, Kit, Label, Line, Picture, Shadow

FOCUS_RING = "focus-ring"


def propose_states(kit: Kit, control: Control) -> Control:
    """The control with changes proposed for every state that has none yet.

    Hover is lighter and pressed darker by a step of OKLCH lightness; pressed also moves down and
    draws its shadows in; disabled is washed out; focus shows a ring outside the outline (added as
    a layer that is hidden at rest).
    """
    layers = list(control.layers)
    if not any(isinstance(layer, Line) and not layer.visible for layer in layers):
        ring = Line(
            id=FOCUS_RING, name="Focus ring", visible=False, place="outside", width=3, gap=3,
            colour="#E5A43B",
        )
        layers.append(ring)
    rings = [layer.id for layer in layers if isinstance(layer, Line) and not layer.visible]
    control = control.model_copy(update={"layers": tuple(layers)})

    states: dict[str, Any] = {state: control.changes(state) for state in control.states}
    proposed: dict[str, dict[str, dict[str, Any]]] = {
        "focus": {ring: {"visible": True} for ring in rings},
        "hover": {},
        "pressed": {OUTLINE: {"offset": (0.0, control.outline.offset[1] + 1.0)}},
        "disabled": {},
    }
    for layer in layers:
        if isinstance(layer, Fill):
            proposed["hover"][layer.id] = _recoloured(kit, layer, lambda c: lighter(c, 0.05))
            proposed["pressed"][layer.id] = _recoloured(kit, layer, lambda c: lighter(c, -0.07))
            proposed["disabled"][layer.id] = _recoloured(kit, layer, washed_out)
        elif isinstance(layer, Line) and layer.id not in rings:
            proposed["disabled"][layer.id] = {"colour": washed_out(kit.colour(layer.colour))}
        elif isinstance(layer, Shadow):
            x, y = layer.offset
            proposed["pressed"][layer.id] = {"offset": (x * 0.4, y * 0.4), "blur": layer.blur * 0.4}
            proposed["disabled"][layer.id] = {"visible": False}
        elif isinstance(layer, InnerShadow):
            proposed["disabled"][layer.id] = {"visible": False}
        elif isinstance(layer, Picture) and layer.picture:
            proposed["hover"][layer.id] = {"saturation": 1.15, "brightness": 1.06}
            proposed["pressed"][layer.id] = {"brightness": 0.86}
            proposed["disabled"][layer.id] = {"saturation": 0.15, "opacity": 0.6}
        elif isinstance(layer, Label):
            proposed["disabled"][layer.id] = {"opacity": 0.6}
    for state, changes in proposed.items():
        if not states.get(state):
            kept = {part: values for part, values in changes.items() if values}
            if kept:
                states[state] = kept
    return Control.model_validate({**dict(control), "states": states})


def _recoloured(kit: Kit, layer: Fill, change: Any) -> dict[str, Any]:
    if layer.style == "solid":
        return {"colour": change(kit.colour(layer.colour))}
    return {
        "stops": tuple(
            stop.model_copy(update={"colour": change(kit.colour(stop.colour))})
            for stop in layer.stops
        )
    }
