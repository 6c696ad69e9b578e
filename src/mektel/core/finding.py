"""Findings: what is wrong or was left out, where, and what mends it.

The window, the command line and every importer and target report in this form alone.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from mektel.core.kit import Kit


@dataclass(frozen=True)
class Place:
    """Where something is: in a source file by ``line`` (from 1; 0 for none) and ``element``, in a
    kit by control, part, condition and path of a value. What does not apply is empty.
    """

    line: int = 0
    element: str = ""
    control: str = ""
    part: str = ""
    condition: str = ""
    path: str = ""

    def __str__(self) -> str:
        source = [f"line {self.line}"] if self.line else []
        source += [self.element] if self.element else []
        value = ".".join(filter(None, (self.part, self.path)))
        if value and self.condition:
            value += f" in {self.condition}"
        return ": ".join([*source, *([value] if value else [])])

    def as_data(self) -> dict[str, Any]:
        return {name: value for name, value in vars(self).items() if value}


@dataclass(frozen=True)
class Mend:
    """What mends a finding, in words; and as an edit, where there is one that does."""

    text: str
    edit: Callable[[Kit], Kit] | None = field(default=None, compare=False)


@dataclass(frozen=True)
class Finding:
    """One thing to report: ``code`` names its kind, and stays the same."""

    code: str
    place: Place
    message: str
    mend: Mend | None = None

    def __str__(self) -> str:
        where = str(self.place)
        text = f"{where}: {self.message}" if where else self.message
        return f"{text} {self.mend.text}" if self.mend is not None else text

    def as_data(self) -> dict[str, Any]:
        """As plain data, for those who read findings by program."""
        return {
            "code": self.code, "place": self.place.as_data(), "message": self.message,
            "mend": self.mend.text if self.mend is not None else "",
            "mends_itself": self.mend is not None and self.mend.edit is not None}
