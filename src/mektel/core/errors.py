"""Errors whose text is fit for the user: what happened, where, and what can be done."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator


class MektelError(Exception):
    """Base of every error that a user may meet. ``str()`` is one clear message."""


class DocumentError(MektelError):
    """A kit breaks a rule of the document.

    ``place`` is a path such as ``controls[0].layers[2].width``.
    """

    def __init__(self, place: str, reason: str) -> None:
        self.place = place
        self.reason = reason
        super().__init__(f"{place}: {reason}" if place else reason)


class NotFoundError(MektelError):
    """A control, layer, state or target was asked for by a name that nothing has."""

    def __init__(self, what: str, name: str, known: list[str]) -> None:
        # A long list would hide what it is about.
        named = [*known[:24], *([f"and {len(known) - 24} more"] if len(known) > 24 else [])]
        choice = ", ".join(named) if named else "none"
        super().__init__(f"There is no {what} “{name}”. Available: {choice}.")


@contextlib.contextmanager
def reading(source: str, error: type[MektelError]) -> Iterator[None]:
    """The one way into a reader: any fault becomes ``error``, naming ``source``.

    Errors that are fit for the user pass as they are; the fault itself stays as the cause.
    """
    try:
        yield
    except MektelError:
        raise
    except RecursionError:
        raise error(f"{source}: nested too deeply to be read.") from None
    except MemoryError:
        raise error(f"{source}: reading it takes more memory than there is.") from None
    except Exception as fault:
        raise error(f"{source}: something in it is not as the format has it, so it is not read. "
                    f"({type(fault).__name__})") from fault
