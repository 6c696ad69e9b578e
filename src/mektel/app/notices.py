"""What the window tells its user."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Notice:
    """Something to tell the user; ``act`` is offered as a button under ``action``, and another
    thing to do under ``other``.
    """

    text: str
    details: tuple[str, ...] = ()
    bad: bool = False
    action: str = ""
    act: Callable[[], object] | None = None
    other: str = ""
    act_other: Callable[[], object] | None = None
