"""Answers to touch and endless motion in CSS: registered custom properties and animations.

What depends on states is declared and moves by transitions; what depends on the pointer or on a
touch is set by the runtime (``runtime/answers.js``), and moves by the same.
"""

from __future__ import annotations

import math
from typing import Any

from mektel.core.easing import css_text
from mektel.core.kit import OUTLINE, REST, parse_flags
from mektel.core.kit.answers import Shake, Swing, Twist
from mektel.core.kit.timing import Timing
from mektel.core.motion.answers.frame import Cue, Hand
from mektel.core.motion.answers.kick import ends, swung
from mektel.core.motion.swings import EASED, share, wave
from mektel.targets.answering import moved_part
from mektel.targets.instrument import Instrument, States, count_merged
from mektel.targets.sheet import Part, PartState, Sheet
from mektel.targets.web.css_values import Declarations, number, px

# Of a pointer that is followed, by timing: its place, and how much of it is inside.
X, Y, INSIDE = "--mektel-x-", "--mektel-y-", "--mektel-inside-"
# Whether it is pressed: 0 or 1, or between.
PRESSED = "--mektel-pressed"
# 1, or 0 where the platform asks for less motion.
MOVES = "--mektel-moves"
# How much of a swing is there.
LEVEL = "--mektel-level-"
# Points of a wave, and of a blow, written as straight lines.
POINTS = 48
MARKS, BEYOND = ".marks", ".beyond"
# Values of a layer that move it as those of the control move all of it.
WHOLE = {"move.0": "x", "move.1": "y", "rotate": "turn"}
PAINTS = {"fill": "background-color", "label": "color", "icon": "stroke"}


def followed_timings(sheet: Sheet) -> list[Timing]:
    """Each timing by which something goes with the pointer, once."""
    return list(dict.fromkeys(answer.timing for answer in sheet.answers
                              if answer.kind in ("lean", "follow")))


def pointer_properties(sheet: Sheet) -> dict[str, Timing]:
    """The properties that say where the pointer is, and how they move."""
    return {f"{name}{at}": timing for at, timing in enumerate(followed_timings(sheet))
            for name in (X, Y, INSIDE)}


def level_properties(sheet: Sheet) -> dict[str, Timing]:
    return {f"{LEVEL}{at}": EASED for at, swing in enumerate(sheet.swings)
            if swing.during != REST}


def moving_names(sheet: Sheet) -> dict[str, dict[str, Timing]]:
    """By part (``outline`` for all of it): properties that answers move, and how."""
    names: dict[str, dict[str, Timing]] = {}
    own = pointer_properties(sheet) | level_properties(sheet)
    for answer in sheet.answers:
        if answer.kind == "press":
            own |= {PRESSED: answer.timing, "scale": answer.timing}
        if answer.kind == "lift":
            for part in sheet.layers:
                if part.kind == "shadow" and not part.host:
                    names[part.name] = dict.fromkeys(("box-shadow", "filter"), answer.timing)
    return {OUTLINE: own, **names} if own else names


# What the outline's layers are drawn by

def pressed(sheet: Sheet, state: PartState, kind: str) -> Any:
    """The answer of a kind to being pressed, in states in which it is; else None."""
    if "pressed" not in state.flags or state.flags & {"busy", "disabled"}:
        return None
    return next((answer for answer in sheet.answers if answer.kind == kind), None)


def whole(sheet: Sheet, state: PartState, x: str, y: str) -> Declarations:
    """How all layers are placed: moved by the outline's offset, and as answers have it."""
    declared: Declarations = {}
    sinks = []
    press = next((entry for entry in sheet.answers if entry.kind == "press"), None)
    if press is not None:
        down = pressed(sheet, state, "press") is not None
        declared |= {
            "scale": f"calc(1 - {number(1 - press.scale)} * var({MOVES}, 1))" if down else "1",
            PRESSED: f"var({MOVES}, 1)" if down else "0"}
        # Not by translate, which the outline's own offset moves at its own pace.
        sinks = [f"translateY(calc(var({PRESSED}) * {px(press.sink)}))"] if press.sink else []
    timings = followed_timings(sheet)
    turns, across, along_too = [], [], []
    for entry in sheet.answers:
        if entry.kind == "lean":
            at = timings.index(entry.timing)
            sideways, along = (
                f"var({INSIDE}{at}) * (2 * var({name}{at}) - 1) * {number(entry.degrees)}deg"
                for name in (X, Y))
            if entry.by == "turn":
                turns.append(sideways)
            else:
                across.append(along)
                along_too.append(sideways)
    if turns:
        declared["rotate"] = f"calc({' + '.join(turns)})"
    if across:
        sinks.append(f"skew(calc({' + '.join(across)}), calc({' + '.join(along_too)}))")
    if sinks:
        declared["transform"] = " ".join(sinks)
    return {"translate": f"{x} {y}", **declared}


def levels(sheet: Sheet, state: PartState) -> Declarations:
    """Which swings that need a condition are there."""
    return {f"{LEVEL}{at}": "1" if parse_flags(swing.during) <= state.flags else "0"
            for at, swing in enumerate(sheet.swings) if swing.during != REST}


def after_pointer(sheet: Sheet, part: Part, name: str, values: tuple[str, str]) -> tuple[str, str]:
    """A pair of CSS values as it goes with the pointer, where it does: shares as percentages, or
    lengths.
    """
    answer = next((answer for answer in sheet.answers if answer.kind == "follow"
                   and answer.part == part.name and answer.value == name), None)
    if answer is None or part.host:
        return values
    at = followed_timings(sheet).index(answer.timing)
    gone = f"var({INSIDE}{at}) * {number(answer.share)}"
    if name == "centre":
        x, y = (f"calc({value} + (var({place}{at}) * 100% - {value}) * {gone})"
                for value, place in zip(values, (X, Y), strict=True))
    else:
        x, y = (f"calc({value} + (var({place}{at}) - 0.5) * {px(length)} * {gone})"
                for value, place, length in zip(values, (X, Y), sheet.size, strict=True))
    return x, y


# Endless motion

def swing_rules(sheet: Sheet, selectors: dict[str, str], still: Any
                ) -> tuple[list[tuple[str, States, Declarations]], str]:
    """Rules for what swings, by part; and its keyframes. ``still`` says which do not."""
    played: dict[str, list[tuple[int, Swing]]] = {}
    for at, swing in enumerate(sheet.swings):
        if not still(swing):
            played.setdefault(selectors[swing.part], []).append((at, swing))
    rules: list[tuple[str, States, Declarations]] = []
    frames = ""
    for selector, entries in played.items():
        names, lengths, easings, delays = [], [], [], []
        for at, swing in entries:
            name, declared = f"mektel-swing-{at}", _goal(sheet, at, swing)
            frames += f"@keyframes {name} {{\n  {declared}\n}}\n"
            names.append(name if swing.during == REST else f"var(--swing-{at}, none)")
            lengths.append(f"{number(swing.period)}s")
            easings.append(_wave(swing))
            delays.append(f"{number(-swing.phase * swing.period)}s")
        rules.append((selector, (), {
            "animation-name": ", ".join(names), "animation-duration": ", ".join(lengths),
            "animation-timing-function": ", ".join(easings),
            "animation-delay": ", ".join(delays), "animation-iteration-count": "infinite",
            "animation-composition": ", ".join(
                "replace" if swing.colour else "add" for _, swing in entries)}))
    return rules, frames


def _wave(swing: Swing) -> str:
    """One period as an easing: from 0, where it is at rest, by 1, as far as it swings."""
    one_sided = bool(swing.colour) or swing.sides == "one"
    of = share if one_sided else wave
    if swing.wave == "pulse":
        return "linear(1 0% 50%, 0 50% 100%)"
    if swing.wave == "saw" and not one_sided:
        return "linear(0, 1 50%, -1 50%, 0)"
    values = [of(swing.wave, at / POINTS) for at in range(POINTS)]
    if swing.wave == "triangle":
        return "linear(0, 1 50%, 0)" if one_sided else "linear(0, 1 25%, -1 75%, 0)"
    if swing.wave == "saw":
        return "linear(0, 1)"
    return "linear(" + ", ".join(number(round(value, 4)) for value in (*values, 0.0)) + ")"


def _goal(sheet: Sheet, at: int, swing: Swing) -> str:
    """The keyframes of a swing: how far it goes. A colour begins at what is there.

    By ``transform``, which states leave alone: browsers drop the transition of a property while an
    animation of it runs.
    """
    if swing.colour:
        return f"to {{ {colour_property(sheet, swing)}: {swing.colour.lower()}; }}"
    level = "" if swing.during == REST else f"var({LEVEL}{at}) * "

    def by(unit: str, of: float = 1.0) -> str:
        return f"calc({level}{number(swing.amplitude / of)}{unit})"

    name, *steps = swing.value.split(".")
    if name == "opacity":
        # What it is at rest is a factor, too.
        faded = f"calc(1 + {by('', max(0.01, sheet.part(swing.part).rest.values.opacity))})"
        return f"from {{ filter: opacity(1); }} to {{ filter: opacity({faded}); }}"
    start, goal = {
        "x": ("translate(0px, 0px)", f"translate({by('px')}, 0px)"),
        "y": ("translate(0px, 0px)", f"translate(0px, {by('px')})"),
        "turn": ("rotate(0deg)", f"rotate({by('deg')})"),
        "size": ("scale(1)", f"scale(calc(1 + {by('')}))"),
    }[WHOLE.get(name + "." + steps[0] if steps else name, name)]
    return f"from {{ transform: {start}; }} to {{ transform: {goal}; }}"


def colour_property(sheet: Sheet, swing: Swing) -> str:
    """The property that a colour which swings is of; empty where no property holds it alone."""
    part = sheet.part(swing.part)
    values = part.rest.values
    if swing.value == "colour" and getattr(values, "style", "solid") == "solid":
        return PAINTS.get(part.kind, "")
    name, *steps = swing.value.split(".")
    if name == "stops" and steps[1:] == ["colour"] and not part.host:
        return f"--mektel-stop-{int(steps[0]) + 1}"
    return ""


# What the runtime plays

def kick_easing(answer: Twist | Shake) -> tuple[str, float]:
    """A blow as an easing, 1 being as far as it comes; and its seconds."""
    seconds = ends(answer, Hand(cues=(Cue(answer.cause, 0.0),)))
    cues = (Cue(answer.cause, 0.0),)
    count = max(POINTS, math.ceil(seconds * 60))
    values = [swung(answer, cues, seconds * at / count) for at in range(count)]
    return "linear(" + ", ".join(number(round(value, 4)) for value in (*values, 0.0)) + ")", seconds


def gives_way(sheet: Sheet) -> bool:
    """Whether it moves while it is pressed, which it does not where less motion is asked for."""
    return any(answer.kind in ("press", "lift") for answer in sheet.answers)


def runtime_answers(sheet: Sheet, still: Any) -> list[dict[str, Any]]:
    """What the runtime has to know of each answer that it plays; times in ms."""
    played: list[dict[str, Any]] = []
    for answer in sheet.answers:
        if still(answer):
            continue
        entry: dict[str, Any] = {"kind": answer.kind}
        if hasattr(answer, "cause"):
            entry["cause"] = answer.cause
        if answer.kind == "ripple":
            entry |= {"centred": answer.origin == "centre", "colour": answer.colour.lower(),
                      "grows": round(answer.seconds * 1000), "fades": round(answer.fade * 1000),
                      "easing": css_text(answer.easing), "within": answer.within}
        elif answer.kind == "flash":
            entry |= {"colour": answer.colour.lower(), "fades": round(answer.seconds * 1000)}
        elif answer.kind in ("twist", "shake"):
            easing, seconds = kick_easing(answer)
            frames = (["rotate(0deg)", f"rotate({number(answer.degrees)}deg)"]
                      if answer.kind == "twist"
                      else ["translate(0px)", f"translate({px(answer.distance)})"])
            entry |= {"kind": "kick", "frames": frames, "easing": easing,
                      "lasts": round(seconds * 1000)}
        elif answer.kind == "sound":
            entry |= {"sound": answer.sound, "gain": answer.gain}
        elif answer.kind == "iris":
            entry |= {"colour": answer.colour.lower(), "grows": round(answer.seconds * 1000),
                      "easing": css_text(answer.easing), "next": answer.next}
        else:
            continue
        played.append(entry)
    if any(answer.kind == "press" for answer in sheet.answers):
        played.append({"kind": "pressed"})
    if timings := followed_timings(sheet):
        played.append({"kind": "pointer", "count": len(timings)})
    if conditional := [at for at, swing in enumerate(sheet.swings)
                           if swing.during != REST and not still(swing)]:
        played.append({"kind": "swings", "levels": conditional})
    return played


def draws_marks(sheet: Sheet) -> bool:
    return any(answer.kind in ("ripple", "flash") for answer in sheet.answers)


def reason_still(instrument: Instrument, entry: Any) -> str:
    """Why the web does not play an answer or a swing; empty where it does."""
    sheet = instrument.sheet
    part = moved_part(sheet, entry)
    if part is None:
        return ""
    merged = sheet.layers[: count_merged(sheet, instrument)]
    if part in merged or (part.kind != OUTLINE and instrument.reason(part)):
        return "it is in a picture"
    other = "CSS has it in a value with others"
    name = entry.value.split(".")[0]
    if isinstance(entry, Swing):
        if entry.colour:
            return "" if colour_property(sheet, entry) else other
        label = part.kind == "label" and name == "move"
        return "" if name in ("move", "rotate", "opacity") and not label else other
    gradient = getattr(part.rest.values, "style", "") in ("radial", "conic")
    offset = name == "offset" and part.kind in ("shadow", "inner-shadow")
    moves = name == "move" and part.kind != "label"
    return "" if (name == "centre" and gradient) or offset or moves else other


def plays_partly(sheet: Sheet, entry: Any) -> str:
    """What of an answer or a swing the web does not do."""
    if getattr(entry, "cause", "") == "refuse":
        return "a disabled element notices no press; it refuses while busy"
    if not isinstance(entry, Swing) and entry.kind == "lift" and any(
            part.kind == "shadow" and {"offset", "blur"} & part.varied for part in sheet.layers):
        return "its shadows change with the timing of the lift"
    if not isinstance(entry, Swing) and entry.kind == "follow" and shadowed(sheet, entry):
        return "that shadow changes at once"
    if isinstance(entry, Swing) and entry.colour:
        name = entry.value.split(".")[0]
        values = {getattr(state.values, name, None) for state in sheet.part(entry.part).distinct}
        ends = "" if entry.during == REST else "it begins and ends at once"
        jumps = "that colour changes at once" if len(values) > 1 else ""
        return "; ".join(filter(None, (ends, jumps)))
    return ""


def shadowed(sheet: Sheet, entry: Any) -> bool:
    """Whether the pointer leads a shadow that states move as well: browsers would have each of the
    two wait for the other.
    """
    return entry.value == "offset" and bool(
        {"offset", "blur", "colour", "spread"} & (sheet.part(entry.part).varied - {"offset"}))
