"""Undo and redo: a list of whole kits with named steps between them."""

from __future__ import annotations

from dataclasses import dataclass

from mektel.core.kit.document import Kit

MOST_STEPS = 400


@dataclass(frozen=True)
class Step:
    name: str
    kit: Kit
    merge_key: object = None


class History:
    """Whole documents in order; ``kit`` is the present one.

    Steps with the same ``merge_key`` in a row become one (a dial being dragged). ``close_step``
    ends such a run. The oldest steps are forgotten beyond ``MOST_STEPS``.
    """

    def __init__(self, kit: Kit) -> None:
        self._steps = [Step("", kit)]
        self._at = 0
        self._open = False

    @property
    def kit(self) -> Kit:
        return self._steps[self._at].kit

    def do(self, name: str, kit: Kit, merge_key: object = None) -> None:
        present = self._steps[self._at]
        if kit == present.kit:
            return
        del self._steps[self._at + 1 :]
        if self._open and merge_key is not None and merge_key == present.merge_key:
            self._steps[self._at] = Step(name, kit, merge_key)
        else:
            self._steps.append(Step(name, kit, merge_key))
            del self._steps[: max(0, len(self._steps) - 1 - MOST_STEPS)]
            self._at = len(self._steps) - 1
        self._open = merge_key is not None

    def clear(self) -> None:
        """Forgets every step but the present one, one after the other: meant for a thread."""
        self._steps, steps, self._at = [self._steps[self._at]], self._steps, 0
        while steps:
            steps.pop()

    def close_step(self) -> None:
        self._open = False

    @property
    def undo_name(self) -> str | None:
        return self._steps[self._at].name if self._at else None

    @property
    def redo_name(self) -> str | None:
        return self._steps[self._at + 1].name if self._at + 1 < len(self._steps) else None

    def undo(self) -> Kit:
        self._at = max(0, self._at - 1)
        self._open = False
        return self.kit

    def redo(self) -> Kit:
        self._at = min(len(self._steps) - 1, self._at + 1)
        self._open = False
        return self.kit
