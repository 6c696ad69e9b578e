"""How a value moves to where a state puts it: by an easing, a spring, or following."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from mektel.core.easing import EasingError, easing_from_text
from mektel.core.kit.forms import Brief
from mektel.core.kit.value_types import Identifier, Measure

EASE = "ease"


def _checked_easing(text: str) -> str:
    try:
        easing_from_text(text)
    except EasingError as error:
        raise ValueError(str(error)) from None
    return text.strip()


EasingText = Annotated[str, Field(max_length=2000), AfterValidator(_checked_easing)]
Seconds = Annotated[float, Measure("s", 0, 10, 0.01, 3)]
Bounce = Annotated[float, Measure("%", 0, 0.9, 0.01, 2)]


class Timing(Brief):
    """How a change takes ``seconds`` from ``delay`` on.

    ``easing`` goes by a function of CSS Easing 2. ``spring`` passes its goal by ``bounce`` of the
    way and has settled, within 1 %, after ``seconds``. ``follow`` closes an equal share of what is
    left in equal times, 99 % of it in ``seconds``. ``named`` it has the values of that entry
    of the palette, and follows it.
    """

    kind: Literal["easing", "spring", "follow"] = "easing"
    seconds: Seconds = 0.15
    delay: Seconds = 0.0
    easing: EasingText = EASE
    bounce: Bounce = 0.2
    mixing: Literal["srgb", "oklab"] = "srgb"
    named: Identifier | None = None

    @property
    def unnamed(self) -> Timing:
        """The same timing as one of its own, which follows no palette entry."""
        return self.model_copy(update={"named": None}) if self.named is not None else self
