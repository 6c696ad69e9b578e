"""A press that becomes progress, laid into a control as changes, timings, a swing and an iris.

Nothing else is kept of it: each step is one of these, and is edited as such.
"""

from __future__ import annotations

from mektel.core.kit.answers import Iris, Swing
from mektel.core.kit.control import ALL, CONTROL, Control
from mektel.core.kit.document import Kit
from mektel.core.kit.edit import control_with, insert_layer, replace_control
from mektel.core.kit.forms import OwnOutline
from mektel.core.kit.layers import Label, LayerBase, Line, Shadow, Shaped
from mektel.core.kit.state_edits import set_behaviour
from mektel.core.kit.timing import Timing
from mektel.core.kit.value_types import Stop

# How long (s) each step takes, and after how long it begins.
FADES = Timing(seconds=0.12, easing="ease-out")
NARROWS = Timing(seconds=0.32, delay=0.08, easing="cubic-bezier(0.4, 0, 0.2, 1)")
APPEARS = Timing(seconds=0.18, delay=0.3, easing="ease-out")
SHADOW_GOES = Timing(seconds=0.2, delay=0.2, easing="ease-in")
TURN = 0.9
IRIS = 0.6
COVERED = Timing(seconds=0.01, delay=IRIS)
SPINNER, SPINNER_NAME = "spinner", "Spinner"


def can_be_busy(control: Control) -> bool:
    """Whether a busy sequence can be laid into it: it is pressed, and is not one already."""
    return control.behaviour in ("push", "busy") and not any(
        layer.id == SPINNER for layer in control.layers)


def lay_busy_sequence(kit: Kit, control_id: str) -> Kit:
    """While busy the body narrows to a circle, the label fades and a spinner turns; when that is
    done an iris in the colour of the face grows from it. Back at rest all is there again once the
    iris has covered the screen.
    """
    # By itself, so that what derives from it follows once.
    alone = kit.model_copy(update={"controls": (kit.control(control_id),)})
    alone = set_behaviour(alone, control_id, "busy")
    control = alone.control(control_id)
    spinner = _spinner(control, control.size[1])
    alone = insert_layer(alone, control_id, spinner, {"busy": {"visible": True}}, None)
    control = alone.control(control_id)
    spinner_id = control.layers[-1].id
    states = {state: {part: dict(values) for part, values in parts.items()}
              for state, parts in control.states.items()}
    busy = states.setdefault("busy", {})
    body, circle = _body(control), _circle(control)
    layers = tuple(layer.model_copy(update={"outline": body}) if _is_body(layer) else layer
                   for layer in control.layers)
    for layer in layers:
        if _is_body(layer):
            busy.setdefault(layer.id, {})["outline"] = circle
        if isinstance(layer, Label):
            busy.setdefault(layer.id, {})["opacity"] = 0.0
        if isinstance(layer, Shadow):
            busy.setdefault(layer.id, {})["visible"] = False
    swing = Swing(part=spinner_id, value="rotate", wave="saw", amplitude=180.0, period=TURN,
                  during="busy")
    iris = Iris(colour=_face_colour(control), seconds=IRIS)
    timings = {condition: {part: dict(by_name) for part, by_name in parts.items()}
               for condition, parts in control.timings.items()}

    def set_timing(condition: str, timing: Timing, part: str = CONTROL, name: str = ALL) -> None:
        timings.setdefault(condition, {}).setdefault(part, {})[name] = timing

    set_timing("busy", NARROWS)
    set_timing("busy", APPEARS, spinner_id)
    for layer in layers:
        steps = [("outline", NARROWS)] if _is_body(layer) else []
        steps += [("opacity", FADES)] if isinstance(layer, Label) else []
        steps += [("visible", SHADOW_GOES)] if isinstance(layer, Shadow) else []
        for name, timing in steps:
            set_timing("busy", timing, layer.id, name)
            # Back at rest it stays as it is until the iris has covered it.
            set_timing("rest", COVERED, layer.id, name)
    return replace_control(kit, control_with(
        control, layers=layers, states=states, timings=timings, swings=(*control.swings, swing),
        answers=(*(answer for answer in control.answers if answer.kind != "iris"), iris)))


def _is_body(layer: LayerBase) -> bool:
    """Whether a layer is drawn by the control's outline, and so narrows with it."""
    return isinstance(layer, Shaped) and layer.id != SPINNER and (
        layer.outline is None or layer.outline.width[0] > 0)


def _body(control: Control) -> OwnOutline:
    """The control's outline as one of a layer's own: only such can be narrower than the control."""
    outline = control.outline
    form = outline.form if outline.form in ("box", "capsule") else "capsule"
    return OwnOutline(form=form, corners=outline.corners, x=(0.0, 0.0), y=(0.0, 0.0),
                      width=(1.0, 0.0), height=(1.0, 0.0))


def _circle(control: Control) -> OwnOutline:
    high = control.size[1]
    radii = (high / 2,) * 4
    return _body(control).model_copy(
        update={"corners": radii, "x": (0.5, -high / 2), "width": (0.0, high)})


def _spinner(control: Control, height: float) -> LayerBase:
    """Three quarters of a ring, in the label's colour."""
    colour = next((layer.colour for layer in control.layers if isinstance(layer, Label)),
                  "#FFFFFF")
    across = round(height * 0.5)
    shown = OwnOutline(form="ellipse", x=(0.5, -across / 2), y=(0.5, -across / 2),
                       width=(0.0, float(across)), height=(0.0, float(across)))
    fading = (Stop(position=0.0, colour="#FFFFFF00"), Stop(position=0.9, colour=colour),
              Stop(position=1.0, colour=colour))
    return Line(id=SPINNER, name=SPINNER_NAME, visible=False, outline=shown, width=3.0,
                style="conic", stops=fading)


def _face_colour(control: Control) -> str:
    face = next((layer for layer in control.layers if layer.kind == "fill"), None)
    if face is None:
        return "#2F8C93"
    return face.colour if face.style == "solid" else face.stops[0].colour
