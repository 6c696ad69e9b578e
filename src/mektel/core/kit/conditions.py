"""Conditions: the sets of states that changes belong to, and which of them wins.

A condition holds when all its states hold. Of several that hold, one that names more states wins,
and of two that name as many, the one whose states come later in ``STATES``: the specificity and
order of CSS, so that a style sheet written in this order cascades alike.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from itertools import combinations
from typing import Annotated, Literal

from pydantic import AfterValidator

from mektel.core.errors import NotFoundError

REST = "rest"
STATES = ("checked", "focus", "hover", "pressed", "busy", "disabled")
Behaviour = Literal["push", "two-position", "long-press", "group", "busy"]
# What a disabled or busy control does not answer to.
SILENT = {"disabled": {"focus", "hover", "pressed", "busy"}, "busy": {"pressed"}}
PLAIN = (REST, "hover", "pressed", "focus", "disabled")
TWO_POSITION = ("checked", "checked+hover", "checked+pressed", "checked+disabled")


def parse_flags(text: str) -> frozenset[str]:
    """``"hover+pressed"`` as a set of states; ``"rest"`` is the empty set.

    >>> sorted(parse_flags("pressed + hover"))
    ['hover', 'pressed']
    """
    flags = {word.strip() for word in text.split("+")} - {REST}
    for flag in flags:
        if flag not in STATES:
            raise NotFoundError("state", flag, [REST, *STATES])
    return frozenset(flags)


def condition_of(flags: Iterable[str]) -> str:
    """A set of states as the document writes it.

    >>> condition_of({"hover", "checked"})
    'checked+hover'
    """
    flagged = set(flags)
    return "+".join(state for state in STATES if state in flagged) or REST


def rank(condition: str) -> tuple[int, ...]:
    """Larger for the condition that wins.

    >>> sorted(["checked+hover", "pressed", "disabled", "hover"], key=rank)
    ['hover', 'pressed', 'disabled', 'checked+hover']
    """
    places = sorted((STATES.index(flag) for flag in parse_flags(condition)), reverse=True)
    return (len(places), *places)


@lru_cache(maxsize=4096)
def in_order(conditions: tuple[str, ...]) -> tuple[tuple[str, frozenset[str]], ...]:
    """Conditions with their states, those that win last."""
    return tuple((condition, parse_flags(condition)) for condition in sorted(conditions, key=rank))


def states_of(kind: str) -> tuple[str, ...]:
    """The states that a control of this behaviour can be in, as ``STATES`` has them."""
    extra = {"two-position": {"checked"}, "group": {"checked"}, "busy": {"busy"}}.get(kind, set())
    return tuple(state for state in STATES
                 if state not in ("checked", "busy") or state in extra)


def shown_states(kind: str) -> tuple[str, ...]:
    """What the wall shows and every picture is made of, for a control of this behaviour."""
    extra = {"two-position": TWO_POSITION, "group": TWO_POSITION, "busy": ("busy",)}
    return PLAIN + extra.get(kind, ())


def designed_states(kind: str, conditions: Iterable[str]) -> tuple[str, ...]:
    """What is shown, and every other condition that a design has changes for and can be met; with
    focus or hover beside those, where the design has them.

    >>> designed_states("push", ["hover", "focus", "focus+pressed"])[5:]
    ('focus+pressed', 'focus+hover')
    """
    usual, can = shown_states(kind), frozenset(states_of(kind))
    own = [state for state in dict.fromkeys(conditions) if state != REST]
    wanted = [*own]
    if "focus" in own:
        wanted += ["focus+hover", "focus+pressed"]
        wanted += ["checked+focus"] if "checked" in can else []
    states = []
    for state in map(condition_of, map(parse_flags, wanted)):
        flags = parse_flags(state)
        silent = any(state in flags and flags & SILENT[state] for state in SILENT)
        if flags <= can and not silent and state not in usual and state not in states:
            states.append(state)
    return (*usual, *states)


@lru_cache(maxsize=16)
def combined_states(kind: str) -> tuple[frozenset[str], ...]:
    """Every set of states that can hold at once."""
    states = states_of(kind)
    sets = []
    for count in range(len(states) + 1):
        for some in combinations(states, count):
            flags = frozenset(some)
            if all(state not in flags or not flags & silent for state, silent in SILENT.items()):
                sets.append(flags)
    return tuple(sets)


def checked_condition(text: str) -> str:
    """A condition in its canonical form; raises ValueError for anything else."""
    try:
        condition = condition_of(parse_flags(text))
    except NotFoundError as error:
        raise ValueError(str(error)) from None
    if condition == REST:
        raise ValueError("rest itself is not a condition; it is where changes start from")
    return condition


Condition = Annotated[str, AfterValidator(checked_condition)]
