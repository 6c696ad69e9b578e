"""Timings as CSS transitions: the browser moves what states change, no script does.

A rule for what is arrived in, as CSS has it. Springs and followers are ``linear()`` easings (CSS
Easing 2); the stops of gradients, which CSS does not move, are registered custom properties.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from functools import lru_cache
from typing import Any

from mektel.core.easing import css_text
from mektel.core.kit import OUTLINE
from mektel.core.kit.control import ALL, CONTROL
from mektel.core.kit.timing import Timing
from mektel.core.motion.arrivals import lasts, share_at
from mektel.targets.base import LayerPlan
from mektel.targets.instrument import Drawing, States
from mektel.targets.sheet import PartState, Sheet
from mektel.targets.timings import by_states
from mektel.targets.web.answering import LEVEL, moving_names
from mektel.targets.web.css_values import Declarations, number

# Answers that move or turn the whole control.
PLACING = ("press", "twist", "shake", "lean")
# A spring is followed for longer than it takes to settle within 1 %, to a tenth of that.
LONGER = 1.5
# Points of a curve written as ``linear()``: straight lines between them keep within 1 % of it.
POINTS = 48
# What browsers move; a shorthand by what of it they do.
ANIMATED: dict[str, tuple[str, ...]] = {
    **{name: (name,) for name in (
        "opacity", "visibility", "translate", "rotate", "scale", "box-shadow", "color", "fill",
        "stroke", "stroke-width", "filter", "backdrop-filter", "border-radius", "clip-path", "left",
        "top", "width", "height", "inset", "transform-origin", "font-size", "letter-spacing",
        "text-shadow", "padding", "background-color")},
    "background": ("background-color",), "border": ("border-color", "border-width"),
}
PAINTED = ("background-color", "border-color", "box-shadow", "color", "fill", "stroke", "filter")
# What a value of a layer is in CSS, where it has properties of its own.
PROPERTIES: dict[str, tuple[str, ...]] = {
    "opacity": ("opacity",), "visible": ("visibility",), "move": ("translate",),
    "rotate": ("rotate",), "scale": ("scale",), "colour": PAINTED,
    "offset": ("box-shadow", "filter", "translate"), "blur": ("box-shadow", "filter"),
    "spread": ("box-shadow", "filter"), "width": ("border-width", "stroke-width"),
    "outline": ("left", "top", "width", "height", "inset", "border-radius", "clip-path"),
}
# Stops of what a lamp is shaded with.
LAMP_STOPS = 3
STOP, PLACE = "--mektel-stop-", "--mektel-place-"


@lru_cache(1024)
def css_time(timing: Timing | None) -> tuple[str, str, str]:
    """Duration, easing and delay, as transitions have them."""
    if timing is None or lasts(timing) == 0:
        return "0s", "linear", "0s"
    if timing.kind == "easing":
        seconds, easing = timing.seconds, css_text(timing.easing)
    else:
        seconds = timing.seconds * LONGER
        plain = timing.model_copy(update={"delay": 0.0})
        shares = [share_at(plain, seconds * at / POINTS) for at in range(POINTS)]
        easing = "linear(" + ", ".join(number(round(share, 4)) for share in (*shares, 1.0)) + ")"
    return f"{number(round(seconds, 4))}s", easing, f"{number(timing.delay)}s"


def moving_properties(drawing: Drawing) -> dict[str, list[str]]:
    """By selector, the properties that states change and browsers move. No others move: what a
    page sets, a size or a direction, is there at once.
    """
    moving: dict[str, list[str]] = {}
    every = dict.fromkeys([*drawing.rest, *(
        selector for groups in drawing.changes.values() for selector in groups)])
    for groups in drawing.changes.values():
        for selector in every:
            changed = groups.get(selector, {})
            # What ``::before`` is made of is declared by the layer itself.
            inherited = {**groups.get(selector.split("::")[0], {}), **changed}
            if not inherited:
                continue
            named = {*drawing.rest.get(selector, {}), *(
                name for other in drawing.changes.values() for name in other.get(selector, {}))}
            wanted = set(changed)
            for name in named:
                values = [drawing.rest.get(selector, {}).get(name), changed.get(name)]
                if any(f"var({entry})" in value or f"var({entry}," in value
                       for value in values if value for entry in inherited if entry[:2] == "--"):
                    wanted.add(name)
            found = {entry for name in wanted for entry in ANIMATED.get(name, ())}
            found |= {name for name in wanted if name.startswith((STOP, PLACE, LEVEL))}
            moving[selector] = sorted({*moving.get(selector, ()), *found})
    return {selector: names for selector, names in moving.items() if names}


# What browsers do not move: a change of it is there at once.
AT_ONCE = ("--stops", "--angle", "--picture", "border-image", "mask", "-webkit-mask-box-image",
           "content", "background-image")
JUMPS = "it changes at once: CSS cannot animate pictures and angles"


def jumping_parts(sheet: Sheet, drawing: Drawing, pictures: Collection[str]) -> set[str]:
    """Parts that do not move all the way where the control does; ``pictures`` are baked ones."""
    if not sheet.moves:
        return set()
    jumping = set()
    for part in sheet.layers:
        selector = f'[part="{part.name}"]'
        changed = {name for groups in drawing.changes.values() for key, values in groups.items()
                   if key.startswith(selector) for name in values}
        drawn = [state.values.model_copy(update={"visible": True, "opacity": 1.0})
                 for state in part.distinct]
        unlike = any(values != drawn[0] for values in drawn)
        if changed & set(AT_ONCE) or (part.name in pictures and unlike):
            jumping.add(part.name)
    return jumping


def motion_plan(sheet: Sheet) -> list[LayerPlan]:
    """What browsers do otherwise on the way from state to state."""
    timings = [sheet.timing_of(part, ALL, flags) for flags in sheet.sets
               for part in (CONTROL, OUTLINE, *(part.name for part in sheet.layers))]
    timings += [answer.timing for answer in sheet.answers if hasattr(answer, "timing")]
    plans = []
    if any(timing is not None and timing.kind == "spring" for timing in timings):
        plans.append(LayerPlan("Springs", "partly", (
            "interrupted, a spring goes on without the speed that it has, and what takes over from "
            "it may be shorter: CSS transitions begin at rest")))
    whole = any(entry.kind in PLACING for entry in sheet.answers) or any(
        swing.part == CONTROL for swing in sheet.swings)
    boxes = "offset" in sheet.outline.varied or any(
        "outline" in part.varied for part in sheet.layers)
    if sheet.moves and (whole or boxes):
        plans.append(LayerPlan("Moving edges", "native", (
            "on the way, edges and letters stand on whole pixels of the screen")))
    return plans


def transition_rules(sheet: Sheet, drawing: Drawing, layers: str
                     ) -> list[tuple[str, States, Declarations]]:
    """(selector, states, declarations): what moves, then how, the later rules being those that
    count. ``layers`` is the selector of what all layers lie in.
    """
    if not sheet.moves:
        return []
    properties, own_names = moving_properties(drawing), moving_names(sheet)
    for entry in sheet.answers:
        if entry.kind == "follow" and entry.value == "offset":
            led = f'[part="{entry.part}"]'
            properties[led] = [name for name in properties.get(led, ())
                               if name not in ("box-shadow", "filter")]
    for name, timings in own_names.items():
        selector = layers if name == OUTLINE else f'[part="{name}"]'
        properties[selector] = sorted({*properties.get(selector, ()), *timings})
    everything = f"{layers}, .layer, .layer::before, .layer::after"
    rules: list[tuple[str, States, Declarations]] = [
        (everything, (), {"transition-property": "none"}),
        *((selector, (), {"transition-property": ", ".join(names)})
          for selector, names in properties.items() if names)]
    whole = {flags: (css_time(sheet.timing_of(CONTROL, ALL, flags)),) for flags in sheet.sets}
    rules += [(everything, states, _declared(times)) for states, times in by_states(whole)]
    for selector, names in properties.items():
        if not names:
            continue
        part = next((part for part in sheet.layers if selector.split("::")[0].startswith(
            f'[part="{part.name}"]')), None)
        name = part.name if part is not None else OUTLINE
        values = part.rest.values if part is not None else sheet.outline.rest.values
        timed = own_names.get(name, {}) if selector in (layers, f'[part="{name}"]') else {}
        comes = part is not None and "visible" in part.varied and "opacity" not in part.varied
        own = {flags: _times(sheet, name, values, names, flags, timed, comes)
               for flags in sheet.sets}
        if own != whole:
            rules += [(selector, states, _declared(times)) for states, times in by_states(own)]
    return rules


def _times(
    sheet: Sheet, part: str, values: Any, properties: list[str], flags: frozenset[str],
    timed: Mapping[str, Timing], comes: bool,
) -> tuple[tuple[str, str, str], ...]:
    """Duration, easing and delay of every property of a part; once where all have the same.
    ``timed`` have timings of their own.
    """
    every = css_time(sheet.timing_of(part, ALL, flags))
    times = dict.fromkeys(properties, every)
    own = [(name, entries) for name, entries in PROPERTIES.items() if hasattr(values, name)]
    if comes:
        own.append(("visible", ("visibility", "opacity")))  # what comes and goes fades
    if hasattr(values, "stops"):
        own.append(("stops", tuple(name for name in properties if name.startswith((STOP, PLACE)))))
    timed_values = sheet.timed_values(part)
    for name, entries in own:
        if name not in timed_values:
            continue
        time = css_time(sheet.timing_of(part, name, flags))
        if time != every:
            times |= {entry: time for entry in entries if entry in times}
    times |= {name: css_time(timing) for name, timing in timed.items() if name in times}
    return (every,) if set(times.values()) == {every} else tuple(times.values())


def _declared(times: tuple[tuple[str, str, str], ...]) -> Declarations:
    durations, easings, delays = (
        ", ".join(values) if len(set(values)) > 1 else values[0]
        for values in zip(*times, strict=True))
    return {"transition-duration": durations, "transition-timing-function": easings,
            "transition-delay": delays}


def moving_stops(state: PartState) -> bool:
    """Whether a gradient's stops change from state to state, or swing, and can move there."""
    part = state.part
    stops = [other.values.stops for other in part.distinct]
    swings = any(swing.part == part.name and swing.value.startswith("stops.") and swing.colour
                 for swing in state.sheet.swings)
    moves = state.sheet.moves and len(set(stops)) > 1
    return ((moves or swings) and len(set(map(len, stops))) == 1
            and len({other.values.style for other in part.distinct}) == 1
            and state.values.spread != "mirror"
            and not any(path == "stops" or path.endswith(".position")
                        for other in part.distinct for path in other.drivers))


def registered(stops: list[tuple[str, str]]) -> tuple[str, Declarations]:
    """(colour, place) of every stop by properties that the runtime registers, and these."""
    declared: Declarations = {}
    for at, (colour, place) in enumerate(stops, 1):
        declared |= {f"{STOP}{at}": colour, f"{PLACE}{at}": place}
    text = ", ".join(f"var({STOP}{at}) var({PLACE}{at})" for at in range(1, len(stops) + 1))
    return text, declared


def most_stops(sheet: Sheet) -> int:
    """How many stops any gradient that moves has."""
    lamps = any(part.kind == "light" for part in sheet.layers)
    return max([LAMP_STOPS if lamps and sheet.moves else 0, *(
        len(part.rest.values.stops) for part in sheet.layers
        if hasattr(part.rest.values, "stops") and moving_stops(part.rest)
        and part.rest.values.style != "solid")])
