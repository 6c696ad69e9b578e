"""What happened and when, played: a pose for every moment, with no clock of its own.

The same events give the same poses at any frame rate, forwards or scrubbed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from mektel.core.behaviour import Event, Situation, step
from mektel.core.kit import Control, Kit
from mektel.core.look.pose import Pose, PosedLayer, pose_of
from mektel.core.look.settle import NOTHING, Settled, settle
from mektel.core.motion.answers import Frame, answered, answers_end
from mektel.core.motion.hands import Hand, handled
from mektel.core.motion.parts import (
    Part,
    TimingOf,
    form_at,
    layers_at,
    posed,
    to_layer,
    to_outline,
)
from mektel.core.motion.swings import Swinging, swinging


@dataclass(frozen=True)
class Motion:
    """A control after some events: where each of its values goes, and from where.

    ``still`` is the pose once everything has settled. In the ``calm`` form states change and
    nothing moves.
    """

    settled: Settled
    kit: Kit
    still: Pose
    situation: Situation
    outline: Part
    layers: tuple[Part, ...]
    signals: tuple[str, ...] = ()
    calm: bool = False
    hand: Hand = field(default_factory=Hand)
    swings: tuple[Swinging, ...] = ()

    @property
    def ends(self) -> float:
        """The moment from which on nothing moves, in seconds of the timeline; infinite while
        something swings.
        """
        return max([self.arrives, *(swing.ends for swing in self._swings)])

    @property
    def arrives(self) -> float:
        """The moment from which on nothing but endless motion moves."""
        return max([self.outline.ends, *(layer.ends for layer in self.layers),
                    answers_end(self._answers, self.hand)])

    @property
    def _answers(self) -> tuple[Any, ...]:
        return () if self.calm else self.settled.control.answers

    @property
    def _swings(self) -> tuple[Swinging, ...]:
        return () if self.calm else self.swings

    def after(self, event: Event) -> Motion:
        """The motion that an event leads to; ``signals`` are what the application receives."""
        control = self.settled.control
        situation, signals = step(control.behaviour, self.situation, event)
        moved = replace(self, situation=situation, signals=signals)
        if control.answers:
            moved = replace(moved, hand=handled(
                control.answers, self.hand, event, (self.situation, situation), signals))
        if situation.states == self.situation.states:
            return moved
        return moved.towards(situation.states, event.at)

    def towards(self, flags: frozenset[str], moment: float) -> Motion:
        """The motion to the pose of other states, from a moment on."""
        control = self.settled.control
        still = pose_of(self.kit, self.settled, flags, self.still.size, self.still.text)
        swings = tuple(swing.towards(flags, moment) for swing in self.swings)
        if self.calm:
            return replace(self, still=still, swings=swings, outline=Part(still.outline),
                           layers=tuple(map(posed, still.layers)))

        def timing_of(part_id: str) -> TimingOf:
            return lambda name: control.timing_of(part_id, name, flags)

        def inner(layer: PosedLayer) -> TimingOf:
            known = {other.id: other for other in self.kit.controls}
            embedded = known.get(layer.source)
            return lambda name: (
                (embedded.timing_of(layer.values.id, name, flags) if embedded else None)
                or control.timing_of("control", name, flags))

        outline = to_outline(
            self.outline, still.outline, moment, timing_of("outline"), self.kit.colour)
        layers = tuple(
            to_layer(part, layer, moment, timing_of(layer.values.id), self.kit.colour, inner)
            for part, layer in zip(self.layers, still.layers, strict=True))
        return replace(self, still=still, outline=outline, layers=layers, swings=swings)

    def at(self, moment: float) -> Pose:
        """The pose at a moment at or after the last event; ``still`` itself once it has come."""
        if moment >= self.ends and not self.holds:
            return self.still
        layers = tuple(layer for part in self.layers
                       for layer in layers_at(part, moment, self.kit.colour))
        frame = answered(self._answers, self.hand, moment, Frame(
            self.still.size, layers, self.outline.values_at(self.outline.aim, moment)))
        for swing in self._swings:
            frame = swing.play(moment, frame, self.kit.colour)
        return replace(self.still, outline=frame.outline, layers=frame.layers,
                       form=form_at(self.outline, moment), matrix=frame.matrix)

    @property
    def holds(self) -> bool:
        """Whether the hand, that has not left, keeps an answer as it is."""
        return bool(self._answers) and self.hand.holds


def motion_of(
    kit: Kit, control: Control, size: tuple[float, float] | None = None, text: str | None = None,
    arguments: Mapping[str, Any] = NOTHING, situation: Situation | None = None,
    calm: bool = False,
) -> Motion:
    """A control before anything happened, at ``size`` (width, height) px.

    Raises :class:`mektel.core.kit.ArgumentError` for an argument that no parameter takes.
    """
    settled = settle(kit, control, size, arguments, text=text)
    start = situation or Situation()
    still = pose_of(kit, settled, start.states, size, text)
    return Motion(settled, kit, still, start, Part(still.outline), tuple(map(posed, still.layers)),
                  calm=calm, swings=swinging(control.swings, start.states))


def played(start: Motion, events: Iterable[Event]) -> list[tuple[float, Motion]]:
    """The motion from each event on, with its moment; the first from before all of them."""
    motions = [(float("-inf"), start)]
    for event in events:
        motions.append((event.at, motions[-1][1].after(event)))
    return motions


def pose_at(
    kit: Kit, control: Control, timeline: Iterable[Event], moment: float,
    size: tuple[float, float] | None = None, text: str | None = None,
    arguments: Mapping[str, Any] = NOTHING,
) -> Pose:
    """The pose ``moment`` seconds into a timeline: what happened later does not count.

    >>> from mektel.core.kit import Kit, Control
    >>> pose_at(Kit(), Control(id="a", name="A"), [Event(0.0, "move", inside=True)], 1.0).size
    (160.0, 48.0)
    """
    motion = motion_of(kit, control, size, text, arguments)
    for event in timeline:
        if event.at > moment:
            break
        motion = motion.after(event)
    return motion.at(moment)
