"""A control's timings as a table: for states, part and value, those that count coming last."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from typing import TypeVar

from mektel.core.kit import OUTLINE, value_names
from mektel.core.kit.control import ALL, CONTROL
from mektel.core.kit.timing import Timing
from mektel.targets.instrument import States, key_of
from mektel.targets.sheet import Sheet

Held = TypeVar("Held", bound=Hashable)
# States, part and value (empty for all of them), and how these move; None for at once.
Row = tuple[States, str, str, Timing | None]


def timing_table(sheet: Sheet) -> list[Row]:
    """All that a runtime needs to know how a value moves; empty if nothing does."""
    if not sheet.moves:
        return []
    whole = {flags: sheet.timing_of(CONTROL, ALL, flags) for flags in sheet.sets}
    rows: list[Row] = [(states, "", "", timing) for states, timing in by_states(whole)]
    for name, values in ((OUTLINE, sheet.outline.rest.values),
                         *((part.name, part.rest.values) for part in sheet.layers)):
        own = {flags: sheet.timing_of(name, ALL, flags) for flags in sheet.sets}
        if own != whole:
            rows += [(states, name, "", timing) for states, timing in by_states(own)]
        timed = sheet.timed_values(name)
        for value in value_names(values):
            if value not in timed:
                continue
            single = {flags: sheet.timing_of(name, value, flags) for flags in sheet.sets}
            if single != own:
                rows += [(states, name, value, timing) for states, timing in by_states(single)]
    return rows if any(timing is not None for *_, timing in rows) else []


def by_states(wanted: Mapping[frozenset[str], Held]) -> list[tuple[States, Held]]:
    """What holds in sets of states (those that win last), as few rules that lay on each other.

    >>> by_states({frozenset(): 1, frozenset({"hover"}): 2, frozenset({"hover", "pressed"}): 2})
    [((), 1), (('hover',), 2)]
    """
    said: dict[States, Held] = {}
    for flags, held in wanted.items():
        holding = [before for states, before in said.items() if flags.issuperset(states)]
        if not holding or holding[-1] != held:
            said[key_of(flags)] = held
    return list(said.items())
