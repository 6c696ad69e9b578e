"""A part of a control on its way: courses of its values, and what fades out beneath it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from mektel.core.kit.forms import Outlined
from mektel.core.kit.layers import value_names
from mektel.core.kit.timing import Timing
from mektel.core.look.outlines import Blended
from mektel.core.look.pose import PosedLayer
from mektel.core.motion.course import Course, course_to
from mektel.core.motion.values import Hex, Way, cover, harmonised, outline_way, way_between

TimingOf = Callable[[str], Timing | None]
PRESENCE, FORM = "visible", "form"
FORM_VALUES = (*(name for name in Outlined.model_fields), "joins", "offset", "fit")
# Earlier versions of a layer that are still fading out.
MOST_FADING = 3


@dataclass(frozen=True)
class Moving:
    """One value's course, and how its vector becomes a value of the document."""

    course: Course
    way: Way

    def at(self, moment: float) -> Any:
        return self.way.back(self.course.at(moment))


@dataclass(frozen=True)
class Part:
    """A layer, or the outline, that goes to ``aim``.

    ``courses`` are by value name, with ``visible`` for how much of the layer is there. ``fading``
    are versions that nothing lies between, each with the course of its successor's share.
    """

    aim: Any
    courses: Mapping[str, Moving] = field(default_factory=dict)
    fading: tuple[tuple[Any, Course], ...] = ()
    members: tuple[Part, ...] = ()

    @property
    def ends(self) -> float:
        own = [moving.course.ends for moving in self.courses.values()]
        return max([0.0, *own, *(course.ends for _, course in self.fading),
                    *(member.ends for member in self.members)])

    def values_at(self, values: Any, moment: float) -> Any:
        """``values`` with all that moves where it is at a moment."""
        changes = {name: moving.at(moment) for name, moving in self.courses.items()
                   if name not in (PRESENCE, FORM) and hasattr(values, name)}
        return values.model_copy(update=changes) if changes else values

    def presence(self, moment: float) -> float:
        """How much of the layer is there: 0 hidden, 1 shown."""
        moving = self.courses.get(PRESENCE)
        if moving is None:
            return float(self.aim.values.visible)
        return min(1.0, max(0.0, moving.course.at(moment)[0]))


def posed(layer: PosedLayer) -> Part:
    """A layer that stands still."""
    return Part(layer, members=tuple(posed(member) for member in layer.members))


def layers_at(part: Part, moment: float, hexed: Hex) -> list[PosedLayer]:
    """What a layer is drawn as at a moment: itself, over its versions that are fading out."""
    layer: PosedLayer = part.aim
    if not part.courses and not part.fading and not part.members:
        return [layer]
    values = part.values_at(layer.values, moment)
    there = part.presence(moment)
    comes = PRESENCE in part.courses
    if comes:
        values = values.model_copy(
            update={"visible": there > 0, "opacity": values.opacity * there})
    newest = replace(layer, values=values, members=_members(part, moment, hexed),
                     share=there if comes else 1.0)
    shares = [min(1.0, max(0.0, course.at(moment)[0])) for _, course in part.fading]
    drawn: list[PosedLayer] = []
    weight, seen_through = 1.0, 1.0
    # From the top: each is as opaque as its weight needs under what lies on it, so that opaque
    # versions stay so together.
    for version, share in zip(
            [newest, *(older for older, _ in reversed(part.fading))], [*reversed(shares), 1.0],
            strict=True):
        now = version.values if version is newest else part.values_at(version.values, moment)
        opacity = min(1.0, weight * share / max(1e-6, seen_through))
        weight *= 1 - share
        seen_through *= 1 - opacity * cover(now, hexed)
        if opacity > 0:
            left = opacity if version is newest else opacity * there
            drawn.append(replace(version, values=_faded(now, left), share=version.share * left))
        if weight <= 0:
            break
    return drawn[::-1]


def _faded(values: Any, share: float) -> Any:
    return values.model_copy(update={"opacity": values.opacity * min(1.0, max(0.0, share))})


def _members(part: Part, moment: float, hexed: Hex) -> tuple[PosedLayer, ...]:
    return tuple(layer for member in part.members for layer in layers_at(member, moment, hexed))


def to_layer(part: Part, layer: PosedLayer, moment: float, timing_of: TimingOf, hexed: Hex,
             inner: Callable[[PosedLayer], TimingOf]) -> Part:
    """A layer on its way to where a new pose has it."""
    if layer.values == part.aim.values and not layer.members and not part.aim.members:
        return part
    there = part.presence(moment)
    courses = _courses_to(part, layer.values, moment, timing_of, hexed, there > 0)
    goal = layer
    fading: tuple[tuple[Any, Course], ...] = ()
    if there > 0:
        now, harmonic = harmonised(part.values_at(part.aim.values, moment), layer.values)
        goal = replace(layer, values=harmonic)
        fading = tuple(pair for pair in part.fading if pair[1].ends > moment)
        unlike = [name for name in value_names(type(harmonic))
                  if name not in courses and name != PRESENCE
                  and getattr(now, name) != getattr(harmonic, name)
                  and way_between(name, getattr(now, name), getattr(harmonic, name), hexed,
                                  "srgb") is None]
        timings = [timing for name in unlike if (timing := timing_of(name)) is not None]
        swapped = [m.values.id for m in layer.members] != [m.values.id for m in part.aim.members]
        if swapped and (timing := timing_of("control")) is not None:
            timings.append(timing)
        if timings:
            older = replace(part.aim, values=now, members=part.aim.members)
            back = None
            if fading and not swapped and all(
                    getattr(fading[-1][0].values, name) == getattr(harmonic, name)
                    for name in unlike):
                # It turns back to what still fades.
                back, fading = fading[-1][1].turned(), fading[:-1]
            share = course_to((1.0,), moment, timings[0], (0.0,), back)
            fading = (*fading, (older, share))[-MOST_FADING:]
        courses = {name: moving for name, moving in courses.items() if name not in unlike}
    known = {member.aim.values.id: member for member in part.members}
    members = tuple(
        to_layer(known[m.values.id], m, moment, inner(m), hexed, inner)
        if m.values.id in known and type(known[m.values.id].aim.values) is type(m.values)
        else posed(m) for m in layer.members)
    return Part(goal, courses, fading, members)


def _courses_to(part: Part, goal: Any, moment: float, timing_of: TimingOf, hexed: Hex,
                seen: bool) -> dict[str, Moving]:
    """A course for each value that the goal wants elsewhere; the others go on."""
    values = part.aim.values
    courses: dict[str, Moving] = {}
    if not seen:
        # What nobody saw has no place to start from; only its coming is seen.
        if goal.visible and (timing := timing_of(PRESENCE)) is not None:
            course = course_to((1.0,), moment, timing, (0.0,))
            courses[PRESENCE] = Moving(course, Way((0.0,), (1.0,), tuple))
        return courses
    now, harmonic = harmonised(part.values_at(values, moment), goal)
    before, _ = harmonised(values, goal)
    for name in value_names(type(goal)):
        def way(mixing: str, name: str = name) -> Way | None:
            if name == PRESENCE:
                return Way((part.presence(moment),), (float(goal.visible),), tuple)
            return way_between(name, getattr(now, name), getattr(harmonic, name), hexed, mixing)

        same = getattr(before, name) == getattr(harmonic, name)
        moving = _moving(part.courses.get(name), same, way, moment, timing_of(name))
        if moving is not None:
            courses[name] = moving
    return courses


def _moving(was: Moving | None, same: bool, way: Callable[[str], Way | None], moment: float,
            timing: Timing | None) -> Moving | None:
    """A value's course: the one it has where its goal is the ``same``, else one along ``way``,
    which is asked with how colours are mixed; None where it is there at once.
    """
    if same:
        return was if was is not None and was.course.ends > moment else None
    if timing is None or timing.seconds + timing.delay <= 0:
        return None
    new = way(timing.mixing)
    return None if new is None else Moving(_course(new, moment, timing, was), new)


def _course(way: Way, moment: float, timing: Timing, was: Moving | None) -> Course:
    same = was is not None and len(was.way.goal) == len(way.goal) and (
        was.way.space == way.space)
    return course_to(way.goal, moment, timing, way.start, was.course if was and same else None)


# The outline

def form_of(outline: Any) -> Any:
    """The values of a control's outline that give its form and place, the others as usual."""
    return type(outline).model_construct(
        **{name: getattr(outline, name) for name in FORM_VALUES})


def form_at(part: Part, moment: float) -> Blended | None:
    """The form on its way to an unlike one; None where the outline's own values say it."""
    moving = part.courses.get(FORM)
    return moving.at(moment) if moving is not None else None


def to_outline(part: Part, outline: Any, moment: float, timing_of: TimingOf, hexed: Hex) -> Part:
    """The control's outline on its way to where a new pose has it."""
    if outline == part.aim:
        return part
    was = part.courses.get(FORM)
    now = part.values_at(part.aim, moment)
    courses: dict[str, Moving] = {}
    unlike = any(getattr(part.aim, name) != getattr(outline, name)
                 for name in (FORM, "path", "joins"))
    running = was is not None and was.course.ends > moment
    if unlike or running:
        timing = timing_of(FORM)
        start = was.at(moment) if was is not None and running else form_of(now)
        if timing is not None and timing.seconds + timing.delay > 0:
            if unlike or was is None:
                way = outline_way(start, form_of(outline))
                courses[FORM] = Moving(_course(way, moment, timing, was if running else None), way)
            else:
                courses[FORM] = was
    for name in value_names(type(outline)):
        if name == FORM or (name in FORM_VALUES and FORM in courses):
            continue

        def number(mixing: str, name: str = name) -> Way | None:
            return way_between(name, getattr(now, name), getattr(outline, name), hexed, mixing)

        same = getattr(part.aim, name) == getattr(outline, name)
        moving = _moving(part.courses.get(name), same, number, moment, timing_of(name))
        if moving is not None:
            courses[name] = moving
    return Part(outline, courses)
