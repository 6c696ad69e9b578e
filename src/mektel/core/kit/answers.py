"""How a control answers the hand beyond its change of state, and what it plays by itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from mektel.core.kit.forms import Brief
from mektel.core.kit.timing import Bounce, EasingText, Seconds, Timing
from mektel.core.kit.value_types import Amount, Colour, Factor, Identifier, Measure, Shift, Thin

# What an answer may be due to. ``check`` is being switched on or off, ``refuse`` a press while
# disabled or busy, ``done`` the end of being busy.
Cause = Literal["enter", "press", "release", "check", "refuse", "done"]
# The sounds that Mektel ships (``core/sounds.py``).
SHIPPED_SOUNDS = ("tap", "tick", "click", "knock", "pop", "drop", "chime", "bell", "horn",
                  "switch-on", "switch-off", "deny", "whoosh")
Tilt = Annotated[float, Measure("°", -45, 45, 0.5)]
Period = Annotated[float, Measure("s", 0.1, 20, 0.05, 3)]


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


class Lift(Brief):
    """The control rises by px while it is pressed: its shadows move on and become softer."""

    kind: Literal["lift"] = "lift"
    height: Thin = 8.0
    timing: Timing = Timing(kind="spring", seconds=0.4, bounce=0.2)


class Twist(Brief):
    """Turned by degrees at a blow, it swings back in ``seconds``; each swing has ``bounce`` of the
    one before.
    """

    kind: Literal["twist"] = "twist"
    cause: Cause = "press"
    degrees: Tilt = 5.0
    seconds: Seconds = 0.6
    bounce: Bounce = 0.5


class Shake(Brief):
    """Pushed sideways by px, it swings back like a twist."""

    kind: Literal["shake"] = "shake"
    cause: Cause = "refuse"
    distance: Shift = 6.0
    seconds: Seconds = 0.5
    bounce: Bounce = 0.65


class Lean(Brief):
    """It turns, or tilts, to the side that the pointer is on, by so many degrees at its edge."""

    kind: Literal["lean"] = "lean"
    by: Literal["turn", "tilt"] = "tilt"
    degrees: Tilt = 5.0
    timing: Timing = Timing(kind="follow", seconds=0.3)


class Follow(Brief):
    """A place or a direction of a layer goes with the pointer while that is inside, by a share of
    the way.
    """

    kind: Literal["follow"] = "follow"
    part: Identifier = "face"
    value: str = Field(default="centre", max_length=40)
    share: Amount = 1.0
    timing: Timing = Timing(kind="follow", seconds=0.25)


class Flash(Brief):
    """The face lights up in a colour at once, and the colour fades in ``seconds``."""

    kind: Literal["flash"] = "flash"
    cause: Cause = "release"
    colour: Colour = "#FFFFFF99"
    seconds: Seconds = 0.3


class Sound(Brief):
    """A short sound, one that Mektel ships or one of the kit, by its id; with its gain."""

    kind: Literal["sound"] = "sound"
    cause: Cause = "press"
    sound: Identifier = "tap"
    gain: Annotated[float, Measure("%", 0, 1, 0.05, 2)] = 0.6


class Iris(Brief):
    """When the work is done, a disc in a colour grows from the control past the farthest corner of
    its window. After ``next`` of its ``seconds`` the application is told to show what comes next.
    """

    kind: Literal["iris"] = "iris"
    colour: Colour = "#2F8C93"
    seconds: Seconds = 0.6
    easing: EasingText = "cubic-bezier(0.4, 0, 0.8, 0.6)"
    next: Annotated[float, Measure("%", 0, 1, 0.01, 2)] = 0.7


Answer = Annotated[
    Ripple | Press | Lift | Twist | Shake | Lean | Follow | Flash | Sound | Iris,
    Field(discriminator="kind")]
ANSWER_KINDS: dict[str, type[Brief]] = {
    kind.model_fields["kind"].default: kind
    for kind in (Ripple, Press, Lift, Twist, Shake, Lean, Follow, Flash, Sound, Iris)}
MOST_ANSWERS = 12


class Swing(Brief):
    """Endless motion of one value while a condition holds (``rest`` for always).

    A number swings about its own by ``amplitude``, or from it to one side and back, a colour
    towards ``colour`` and back; a ``pulse`` is away for the first half of the ``period`` and back
    for the other. ``phase`` is
    the share of a period that it begins with. Of the part ``control`` it moves ``x``, ``y`` (px),
    ``turn`` (degrees) or ``size`` (a share). Several of one value add up.
    """

    part: Identifier = "control"
    value: str = Field(default="y", max_length=80)
    wave: Literal["sine", "triangle", "saw", "pulse"] = "sine"
    amplitude: Annotated[float, Measure("", -2000, 2000, 0.1, 3)] = 2.0
    colour: Colour | None = None
    period: Period = 2.0
    phase: Annotated[float, Measure("%", 0, 1, 0.01, 3)] = 0.0
    during: str = Field(default="rest", max_length=80)
    sides: Literal["both", "one"] = "both"


WHOLE_VALUES = ("x", "y", "turn", "size")
MOST_SWINGS = 12
