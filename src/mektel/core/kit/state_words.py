"""States as people name them in drawings and in the names of files."""

from __future__ import annotations

import re

from mektel.core.kit.conditions import REST, condition_of

WORDS = {
    "rest": "rest", "default": "rest", "normal": "rest", "idle": "rest", "up": "rest",
    "hover": "hover", "hovered": "hover", "over": "hover",
    "pressed": "pressed", "press": "pressed", "active": "pressed", "down": "pressed",
    "focus": "focus", "focused": "focus", "disabled": "disabled",
    "checked": "checked", "selected": "checked", "on": "checked",
    "busy": "busy", "loading": "busy",
}


def condition_in(name: str) -> str | None:
    """The condition that a name holds, such as ``State=Checked, Hover``; None for none.

    >>> condition_in("Board / Hovered"), condition_in("checked-hover"), condition_in("Hull")
    ('hover', 'checked+hover', None)
    """
    words = re.findall(r"[a-z]+", re.sub(r"([a-z])([A-Z])", r"\1 \2", name).lower())
    states = {WORDS[word] for word in words if word in WORDS}
    return condition_of(states - {REST}) if states else None
