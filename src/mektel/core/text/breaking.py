"""Where a line of text may be broken (Unicode UAX 14)."""

from __future__ import annotations

import re
from functools import lru_cache

from uniseg.linebreak import line_break_units

# White space as CSS collapses it: a space that does not break is none.
SPACES = re.compile(r"[ \t\n\r\f]+")
PLAIN = re.compile(r"[A-Za-z0-9 ]*")


@lru_cache(maxsize=2048)
def break_units(text: str) -> tuple[str, ...]:
    """The pieces of a text that stay whole, each with the space that follows it.

    >>> break_units("Half-way  to the pier")
    ('Half-', 'way ', 'to ', 'the ', 'pier')
    """
    text = SPACES.sub(" ", text).strip(" ")
    if PLAIN.fullmatch(text):  # words between spaces: the rules need not be asked
        return tuple(re.findall(r"[^ ]+ ?", text))
    return tuple(str(unit) for unit in line_break_units(text))
