"""Timings, answers to touch and endless motion of a control, as source of its module."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import Any, NamedTuple

from mektel.core.easing import Bezier, Steps, easing_from_text
from mektel.core.kit import REST, measure_of, parse_flags
from mektel.core.kit.answers import Swing
from mektel.core.kit.timing import Timing
from mektel.core.motion.arrivals import lasts
from mektel.targets.answering import content_names, limits_of
from mektel.targets.instrument import States, key_of
from mektel.targets.qtwidgets.instrument import QtInstrument
from mektel.targets.qtwidgets.literals import WIDTH, Name, literal, pretty, side_by_side
from mektel.targets.qtwidgets.plain_values import number, numbers, qt_colour, qt_value
from mektel.targets.sheet import Sheet
from mektel.targets.timings import timing_table

# How far the rows of a table are indented.
ROW, NEXT = " " * 16, "\n" + " " * 16
# Values of the document that Qt's have under other names.
NAMES = {"outline": ("own_box",), "thickness": ("width",), "icon": ("commands",)}


def timings_source(
    sheet: Sheet, values: dict[str, set[str]]
) -> tuple[list[str], str]:
    """Timings of several rows by name, and the table of timings; empty where nothing moves.

    ``values`` names what each part has in any state: nothing else can move.
    """
    rows: list[_Row] = []
    for states, part, wanted, timing in timing_table(sheet):
        names = tuple(name for name in NAMES.get(wanted, (wanted,)) if name in values.get(part, ()))
        if names or not wanted:
            rows.append(_Row(states, (part,) if part else (), names, timing_source(timing)))
    rows = _joined(rows)
    uses = Counter(row.timing for row in rows)
    shared = [source for source, count in uses.items() if count > 1 and source != "None"]
    named = {source: f"TIMINGS[{at}]" for at, source in enumerate(shared)}
    lines = "".join(_row(row, named.get(row.timing, row.timing)) for row in rows)
    return shared, f"(\n{lines}            )" if rows else ""


class _Row(NamedTuple):
    """The states, parts and values (empty for all) that a timing is for."""

    states: States
    parts: tuple[str, ...]
    values: tuple[str, ...]
    timing: str


def _joined(rows: list[_Row]) -> list[_Row]:
    """Rows of several parts that say the same are one, where the order of each part's stays."""
    parts: dict[_Row, list[str]] = {}
    whole = [row for row in rows if not row.parts]
    for row in rows[len(whole):]:
        parts.setdefault(row._replace(parts=()), []).extend(row.parts)
    made = [row._replace(parts=tuple(named)) for row, named in parts.items()]
    stay = all([row._replace(parts=()) for row in rows if row.parts == (part,)]
               == [row._replace(parts=()) for row in made if part in row.parts]
               for part in {part for row in rows for part in row.parts})
    return whole + made if stay else rows


def feel_source(sheet: Sheet, instrument: QtInstrument, rows: str) -> str:
    """What moves in a control, as source; ``rows`` is its table of timings. Answers to touch and
    endless motion that cannot be played are left out.
    """
    fields: dict[str, str] = {}
    answers = [answer for answer in sheet.answers if not instrument.reason_still(answer)]
    swings = [swing for swing in sheet.swings if not instrument.reason_still(swing)]
    if rows:
        fields["timings"] = rows
    if answers:
        fields["answers"] = _tuple(answer_source(sheet, answer) for answer in answers)
    if swings:
        fields["swings"] = _tuple(swing_source(sheet, swing) for swing in swings)
    marks = any(answer.kind in ("ripple", "flash") for answer in answers)
    if marks and (names := content_names(sheet)):
        fields["content"] = literal(names)
    arguments = "".join(f"            {name}={value},\n" for name, value in fields.items())
    return f"runtime.Feel(\n{arguments}        )" if fields else ""


def _tuple(entries: Iterable[str]) -> str:
    return "(\n" + "".join(f"{ROW}{entry},\n" for entry in entries) + "            )"


def answer_source(sheet: Sheet, answer: Any) -> str:
    """An answer as the runtime takes it."""
    values: dict[str, Any] = {"kind": answer.kind}
    for name in type(answer).model_fields:
        value = getattr(answer, name)
        if isinstance(value, Timing):
            values[name] = Name(timing_source(value))
        elif name == "easing":
            values["shape"] = easing_shape(value)
        else:
            values[name] = qt_value(name, value)
    if answer.kind == "follow":
        values["unit"] = measure_of(type(sheet.part(answer.part).rest.values), answer.value).unit
    return pretty(values, len(ROW))


def swing_source(sheet: Sheet, swing: Swing) -> str:
    """A swing as the runtime takes it: its path as Qt's values have it."""
    name, *steps = swing.value.split(".")
    path: tuple[Any, ...] = (name, *(int(step) if step.isdigit() else step for step in steps))
    if name == "stops" and len(path) == 3:
        path = (name, path[1], 1 if path[2] == "colour" else 0)
    limits = limits_of(sheet, swing)
    values: dict[str, Any] = {
        "part": swing.part, "path": path, "wave": swing.wave, "period": number(swing.period)}
    if swing.colour is not None:
        values["colour"] = qt_colour(swing.colour)
    else:
        values["amplitude"] = number(swing.amplitude)
        if swing.sides == "one":
            values["one_sided"] = True
    if limits is not None:
        values["limits"] = numbers(limits)
        if limits == (-360, 360):
            values["turns"] = True
    if swing.phase:
        values["phase"] = number(swing.phase)
    if swing.during != REST:
        values["during"] = key_of(parse_flags(swing.during))
    start = f"{ROW}runtime.Swing("
    given = side_by_side([f"{key}={literal(value)}" for key, value in values.items()],
                         WIDTH - len(start) - 2)
    return start.lstrip() + f",\n{' ' * len(start)}".join(given) + ")"


def _row(row: _Row, timing: str) -> str:
    """A row of a table of timings, on as many lines as it needs."""
    parts = [literal(row.states), pretty(row.parts, 0, len(ROW) + 1), literal(row.values), timing]
    lines = side_by_side(parts, WIDTH - len(ROW) - 3)
    return f"{ROW}({f',{NEXT} '.join(lines)}),\n"


def timing_source(timing: Timing | None) -> str:
    """A timing as the runtime takes it: what its easing is made of, worked out."""
    if timing is None or lasts(timing) == 0:
        return "None"
    values: list[Any] = [timing.kind, number(timing.seconds), number(timing.delay)]
    if timing.kind == "easing":
        values.append(easing_shape(timing.easing))
    elif timing.kind == "spring":
        values += [(), number(timing.bounce)]
    return f"runtime.Timing({', '.join(map(literal, values))})"


def easing_shape(text: str) -> tuple[Any, ...]:
    """An easing as the runtime takes it."""
    easing = easing_from_text(text)
    if isinstance(easing, Bezier):
        return ("bezier", *map(number, (easing.x1, easing.y1, easing.x2, easing.y2)))
    if isinstance(easing, Steps):
        return ("steps", easing.count, easing.jump)
    return ("linear", tuple(tuple(map(number, point)) for point in easing.points))
