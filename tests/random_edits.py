"""Any edit a user can make, drawn at random: for tests that no sequence of them loses anything."""

from __future__ import annotations

import random
from collections.abc import Callable

from mektel.core.errors import MektelError
from mektel.core.kit import (
    KINDS,
    OUTLINE,
    Control,
    Kit,
    Parameter,
    Stop,
    Variation,
    palette_edits,
    value_names,
)
from mektel.core.kit import edit as edits
from mektel.core.kit.answers import Flash, Follow, Iris, Lift, Press, Ripple, Swing, Twist
from mektel.core.kit.busy_sequence import lay_busy_sequence
from mektel.core.kit.checking import checked
from mektel.core.kit.deriving import derive, set_base
from mektel.core.kit.moving import layer_to_text, paste_layer
from mektel.core.kit.parameter_edits import (
    add_parameter,
    lift,
    remove_parameter,
    set_formula,
    set_parameter,
    set_variations,
)
from mektel.core.kit.state_edits import (
    copy_state,
    derive_state,
    link_state,
    set_behaviour,
    unlink_state,
)
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_answers, set_swings, set_timing

STATES = ("rest", "hover", "pressed", "focus", "disabled", "checked", "hover+pressed", "busy")
NAMES = ("Café", "2nd", "sea green!", "tide", "if", "width", "colour", "", "Ω", "a-b", "rest",
         "x" * 90, "tally", "text", "__import__", "label")
TEXTS = ("Go", "", "Don't", '"', "é‮🜁", "x" * 200, "tide", "#FFFFFF", "\\n", "${a}")
FORMULAS = ("rest", "tide", "darken(tide, 0.1)", "width / 4", "face.opacity", "amount", "1 +", "",
            "0.5 if width > 80 else 1", "mix(tide, ink, 0.5)", "(1 +\n 2)", "'a' + text(3)",
            "label.size", "min(1, amount)", "lighten(rest, 0.05)")
Edit = Callable[[Kit, random.Random], Kit]


def _control(kit: Kit, dice: random.Random) -> Control:
    return dice.choice(kit.controls)


def _layer(control: Control, dice: random.Random) -> str:
    return dice.choice([OUTLINE, *(layer.id for layer in control.layers)])


def _value(part: object, name: str, dice: random.Random) -> object:
    """A value like the present one, or far from it, or none that it can have."""
    value = getattr(part, name)
    if isinstance(value, bool):
        return not value
    if isinstance(value, float | int):
        return value * dice.choice((0.0, 0.5, 1.5, -1.0)) + dice.choice((0, 1, -3, 0.25))
    if name == "stops":
        stops = list(value)  # type: ignore[call-overload]
        if dice.random() < 0.5 and len(stops) > 2:
            return tuple(stops[:-1])
        return (*stops, Stop(position=dice.random(), colour=dice.choice(("#102030", "tide"))))
    if name == "colour" or name.endswith("_colour"):
        return dice.choice(("#336699", "#33669980", "tide", "ink", "gone"))
    if isinstance(value, tuple) and value and isinstance(value[0], float):
        return tuple(one + dice.choice((0, 1, -2)) for one in value)
    return dice.choice((value, None, *TEXTS))


def _set_value(kit: Kit, dice: random.Random) -> Kit:
    control = _control(kit, dice)
    part_id = _layer(control, dice)
    part = control.part(part_id)
    name = dice.choice(value_names(part))
    return edits.set_value(kit, control.id, dice.choice(STATES), part_id, name,
                           _value(part, name, dice))


def _formula(kit: Kit, dice: random.Random) -> Kit:
    control = _control(kit, dice)
    part_id = dice.choice([_layer(control, dice), "control"])
    paths = ["text", "size.0"] if part_id == "control" else [
        *value_names(control.part(part_id)), "stops.0.colour", "stops.2.colour", "offset.1",
        "outline.x.1"]
    return set_formula(kit, control.id, dice.choice(("rest", "rest", *STATES)), part_id,
                       dice.choice(paths), dice.choice(FORMULAS))


def _layers(kit: Kit, dice: random.Random) -> Kit:
    control = _control(kit, dice)
    way = dice.randrange(6)
    if way == 0 or not control.layers:
        return edits.add_layer(kit, control.id, dice.choice(list(KINDS)), dice.choice(TEXTS))
    layer = dice.choice(control.layers)
    if way == 1:
        return edits.copy_layer(kit, control.id, layer.id)
    if way == 2:
        return edits.remove_layer(kit, control.id, layer.id)
    if way == 3:
        return edits.move_layer(kit, control.id, layer.id, dice.randrange(8))
    if way == 4:
        return edits.rename_layer(kit, control.id, layer.id, dice.choice(NAMES))
    return paste_layer(kit, _control(kit, dice).id, layer_to_text(kit, control.id, layer.id), None)


def _states(kit: Kit, dice: random.Random) -> Kit:
    control, state, other = _control(kit, dice), dice.choice(STATES), dice.choice(STATES)
    return dice.choice([
        lambda: link_state(kit, control.id, state, other),
        lambda: unlink_state(kit, control.id, state),
        lambda: copy_state(kit, control.id, other, state),
        lambda: derive_state(kit, control.id, state, dice.choice(
            ("lighter", "darker", "washed out"))),
        lambda: edits.clear_changes(kit, control.id, state),
        lambda: set_behaviour(kit, control.id, dice.choice(
            ("push", "two-position", "long-press", "group", "busy"))),
    ])()


def _parameters(kit: Kit, dice: random.Random) -> Kit:
    control = _control(kit, dice)
    names = [parameter.name for parameter in control.parameters] or ["amount"]
    part = _layer(control, dice)
    return dice.choice([
        lambda: add_parameter(kit, control.id, Parameter(
            name=dice.choice(("amount", "tone", "words")), type="number", default=0.5)),
        lambda: lift(kit, control.id, dice.choice(STATES), part, dice.choice(
            value_names(control.part(part))))[0],
        lambda: set_parameter(kit, control.id, names[0], name=dice.choice(
            ("amount", "much", "tide", "Café"))),
        lambda: remove_parameter(kit, control.id, names[-1]),
        lambda: set_variations(kit, control.id, (Variation(
            name="V", arguments={names[0]: dice.choice((0.1, "x", True))},
            text=dice.choice(TEXTS)),)),
    ])()


def _palette(kit: Kit, dice: random.Random) -> Kit:
    names = [swatch.name for swatch in kit.palette] or ["tide"]
    return dice.choice([
        lambda: palette_edits.rename(kit, dice.choice(names), dice.choice(NAMES)),
        lambda: palette_edits.set_swatch(kit, dice.choice([*names, *NAMES]), "#445566"),
        lambda: palette_edits.remove(kit, dice.choice(names)),
        lambda: palette_edits.replace(kit, dice.choice(names), dice.choice(names)),
        lambda: palette_edits.set_swatch_formula(kit, dice.choice(names), dice.choice(FORMULAS)),
        lambda: palette_edits.set_schemes(kit, dice.choice(((), ("day", "night"), ("2nd",)))),
    ])()


def _controls(kit: Kit, dice: random.Random) -> Kit:
    control, other = _control(kit, dice), _control(kit, dice)
    way = dice.randrange(7)
    if way == 0 and len(kit.controls) < 24:
        return derive(kit, control.id, "Derived", edits.identifier(
            "derived", [one.id for one in kit.controls], "control"))
    if way == 1:
        return set_base(kit, control.id, dice.choice((None, other.id)))
    if way == 2 and len(kit.controls) > 4:
        return edits.remove_control(kit, control.id)
    if way == 3 and len(kit.controls) < 24:
        return edits.copy_control(kit, control.id)
    if way == 4:
        return edits.add_layer(kit, control.id, "look", "Held", control=other.id)
    if way == 5:
        return edits.set_id(kit, control.id, f"{control.id[:40]}-x")
    return edits.set_field(kit, control.id, dice.choice(("text", "name", "size")),
                           dice.choice((*TEXTS, *NAMES, (80.0, 30.0))))


def _motion(kit: Kit, dice: random.Random) -> Kit:
    control = _control(kit, dice)
    way, part_id = dice.randrange(4), _layer(control, dice)
    colour = dice.choice(("tide", "#336699", "gone"))
    if way == 0:
        answer = dice.choice((Ripple(colour="#FFFFFF40"), Press(), Lift(), Twist(), Flash(), Iris(),
                              Follow(part=part_id, value=dice.choice(("move", "centre", "x")))))
        answers = (*control.answers, answer)[-4:]
        if hasattr(answer, "colour"):
            answers = (*answers[:-1], answer.model_copy(update={"colour": colour}))
        return set_answers(kit, control.id, answers)
    if way == 1:
        path = dice.choice(("opacity", "move.1", "stops.1.colour", "colour", "size", "outline"))
        swing = Swing(part=dice.choice(("control", part_id)), value=dice.choice(("y", path)),
                      colour=colour if "colour" in path else None,
                      during=dice.choice(("rest", "hover", "busyy")))
        return set_swings(kit, control.id, (*control.swings, swing)[-4:])
    if way == 2:
        return lay_busy_sequence(kit, control.id)
    return set_timing(kit, control.id, dice.choice(("rest", "hover")), dice.choice((
        None, Timing(kind="spring"))), dice.choice((part_id, "control")), "all")


EDITS: tuple[Edit, ...] = (
    _set_value, _set_value, _formula, _layers, _states, _parameters, _palette, _controls, _motion)


def raw_edit(kit: Kit, dice: random.Random) -> Kit:
    """The kit after one edit as the window asks for it; raises as an edit does."""
    return dice.choice(EDITS)(kit, dice)


def random_edit(kit: Kit, dice: random.Random) -> Kit:
    """The kit after one edit; the same kit where the edit is refused in words."""
    try:
        return checked(raw_edit(kit, dice), kit)
    except MektelError:
        return kit
    except ValueError as error:
        if "validation error" in str(error):
            return kit  # what the window tells as it is refused
        raise
