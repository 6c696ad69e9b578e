"""Errors whose text is fit for the user: what happened, where, and what can be done."""


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
        choice = ", ".join(known) if known else "none"
        super().__init__(f"There is no {what} “{name}”. There is: {choice}.")
