"""Which controls were validated from plain data as a whole, so that nobody does it twice.

Validation of a control takes milliseconds, and an edit of a base makes anew whatever derives from
it.
"""

from __future__ import annotations

from weakref import WeakValueDictionary

from mektel.core.kit.control import Control

# By the id of the object, which is what was validated: one that is only equal does not count.
_validated: WeakValueDictionary[int, Control] = WeakValueDictionary()


def as_validated(control: Control) -> Control:
    _validated[id(control)] = control
    return control


def is_validated(control: Control) -> bool:
    return _validated.get(id(control)) is control
