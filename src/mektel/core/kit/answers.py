"""How a control answers a touch beyond its change of state: a ripple, a press that gives way."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from mektel.core.kit.forms import Brief
from mektel.core.kit.timing import EasingText, Seconds, Timing
from mektel.core.kit.value_types import Colour, Factor, Shift


class Ripple(Brief):
    """A disc that grows from the place touched, or from the centre, past the farthest corner, in
    ``seconds``; let go, it fades in ``fade`` seconds. ``within`` keeps it inside the outline.
    """

    kind: Literal["ripple"] = "ripple"
    origin: Literal["touch", "centre"] = "touch"
    colour: Colour = "#FFFFFF59"
    seconds: Seconds = 0.45
    easing: EasingText = "cubic-bezier(0.2, 0, 0.2, 1)"
    fade: Seconds = 0.35
    within: bool = True


class Press(Brief):
    """The whole control becomes smaller and sinks by px while it is pressed, and comes back."""

    kind: Literal["press"] = "press"
    scale: Factor = 0.96
    sink: Shift = 1.0
    timing: Timing = Timing(kind="spring", seconds=0.4, bounce=0.35)


Answer = Annotated[Ripple | Press, Field(discriminator="kind")]
ANSWER_KINDS: dict[str, type[Brief]] = {"ripple": Ripple, "press": Press}
MOST_ANSWERS = 8
