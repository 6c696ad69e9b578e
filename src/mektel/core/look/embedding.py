"""Looks of other controls as content: which can be embedded, and where they lie in their host."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from mektel.core.errors import MektelError, NotFoundError
from mektel.core.kit import Area, Control, EmbeddedLook, Join, Kit, Label, OwnOutline
from mektel.core.look.outlines import control_outline

if TYPE_CHECKING:
    from mektel.core.look.pose import Pose, PosedLayer
    from mektel.core.look.settle import Settled

DEEPEST = 8
# So many layers may come together in one control; looks within looks grow fast.
MOST_LAYERS = 256
# Keys reach the host alone, so that only its own mark of that shows.
ITS_OWN = frozenset({"focus"})
# Values that choose what is embedded and how large; a state or a formula may change them.
CHOOSING = ("control", "shows", "variation", "arguments", "text", "position", "width", "height")
Point = tuple[float, float]
Box = tuple[float, float, float, float]


@dataclass(frozen=True, eq=False)
class Inner:
    """An embedded control, settled: its size in px, and what it says."""

    settled: Settled
    size: Point
    text: str


# Gives the control that a layer embeds; raises MektelError where it cannot.
Finder = Callable[[EmbeddedLook], Inner]


def embeds_looks(control: Control) -> bool:
    return any(layer.kind == "look" for layer in control.layers)


def embeddable(kit: Kit, control: Control) -> list[Control]:
    """The controls whose look this one can embed: all but itself and those that embed it."""
    named_by: dict[str, list[str]] = {}
    for other in kit.controls:
        for name in _named(other):
            named_by.setdefault(name, []).append(other.id)
    hosts, todo = {control.id}, [control.id]
    while todo:
        for name in named_by.get(todo.pop(), ()):
            if name not in hosts:
                hosts.add(name)
                todo.append(name)
    return [other for other in kit.controls if other.id not in hosts]


def _named(control: Control) -> set[str]:
    names = {layer.control for layer in control.layers if isinstance(layer, EmbeddedLook)}
    for changes in control.states.values():
        names |= {values["control"] for values in changes.values() if "control" in values}
    return names


def hosts_of(kit: Kit, control_id: str) -> list[Control]:
    """The controls that embed the look of this one."""
    return [other for other in kit.controls if control_id in _named(other)]


def embedded_control(kit: Kit, layer: EmbeddedLook, under_way: tuple[str, ...]) -> Control:
    """The control that a layer names; raises where it is not there or would embed itself."""
    control = next((other for other in kit.controls if other.id == layer.control), None)
    if control is None:
        raise NotFoundError("control", layer.control, [other.id for other in kit.controls])
    if control.id in under_way or len(under_way) > DEEPEST:
        raise MektelError(f"controls embed each other: {' → '.join([*under_way, control.id])}.")
    return control


def with_sizes(control: Control, find: Finder) -> Control:
    """The control with every embedded look's own size written out, so that it can be laid out."""
    def sized(layer: Any) -> Any:
        if not isinstance(layer, EmbeddedLook) or not layer.control:
            return layer
        try:
            width, height = find(layer).size
        except MektelError:
            return layer
        return layer.model_copy(update={"width": width, "height": height})

    return control.model_copy(update={"layers": tuple(map(sized, control.layers))})


def placed_members(layer: EmbeddedLook, inner: Inner, pose: Pose, host: Point
                   ) -> tuple[PosedLayer, ...]:
    """The layers of an embedded look in its host's box, ``host`` (width, height) px large."""
    frame = _Frame(layer, inner, pose.outline, host)
    return tuple(frame.placed(member) for member in pose.layers)


class _Frame:
    """Where an embedded control's box lies in its host's; px of its box become spots of that."""

    def __init__(self, layer: EmbeddedLook, inner: Inner, outline: Any, host: Point) -> None:
        self.layer, self.inner, self.outline, self.host = layer, inner, outline, host
        width, height = inner.size
        designed = inner.settled.control.size
        shape = control_outline(
            outline.model_copy(update={"offset": (0.0, 0.0)}), width, height, designed)
        self.box: Box = (shape.x, shape.y, shape.width, shape.height)
        across, down = width, height
        if outline.fit == "keep":
            share = min(width / designed[0], height / designed[1])
            across, down = designed[0] * share, designed[1] * share
        self.nominal: Box = ((width - across) / 2, (height - down) / 2, across, down)
        # From its top left to its middle, which lies at the layer's spot.
        self.half = (width / 2, height / 2)

    def placed(self, member: PosedLayer, nested: bool = False) -> PosedLayer:
        part = member.values
        x, y, width, height = self.box
        # What another look in it embeds moves with that.
        dx, dy = (0.0, 0.0) if nested else self.outline.offset
        changes: dict[str, Any] = {"name": f"{self.layer.name}: {part.name}"}
        start = (0.0, 0.0)  # from where the host has it to where it lies
        if isinstance(part, Label):
            changes["text"] = self.inner.text if part.text is None else part.text
            changes["box"] = self._label_box(part)
        elif "outline" in type(part).model_fields:
            changes["outline"] = self._outline(part)
        elif "position" in type(part).model_fields and part.kind != "look":
            across, down = part.position
            start = (x + across * width - self.half[0], y + down * height - self.half[1])
            changes["position"] = self.layer.position
        changes["move"] = (part.move[0] + dx + start[0], part.move[1] + dy + start[1])
        if part.rotate % 360 or part.scale != (1.0, 1.0):
            # A pivot moves with its layer, which begins at another place here.
            changes["pivot"] = tuple(
                (at * whole + begin + share * side - half - first) / whole
                for at, whole, begin, share, side, half, first in zip(
                    self.layer.position, self.host, (x, y), part.pivot, (width, height), self.half,
                    start, strict=True))
        return replace(
            member, values=part.model_copy(update=changes),
            members=tuple(self.placed(inner, nested=True) for inner in member.members),
            source=member.source or self.inner.settled.control.id)

    def _label_box(self, part: Label) -> Area:
        x, y, width, height = self.box
        if part.box is not None:
            # Worked out, not written: such a box may lie farther away than a document's.
            return Area.model_construct(None, **self._area(part.box, self.box))
        pad = min(self.outline.padding[0], width / 2)
        return Area.model_construct(x=(self.layer.position[0], x + pad - self.half[0]),
                                    y=(self.layer.position[1], y - self.half[1]),
                                    width=(0.0, width - 2 * pad), height=(0.0, height))

    def _outline(self, part: Any) -> OwnOutline:
        form, box = part.outline, self.box
        if form is None:
            form, box = self.outline, self.nominal
        values = {name: getattr(form, name) for name in OwnOutline.model_fields
                  if name in type(form).model_fields}
        values |= self._area(Area() if part.outline is None else form, box)
        values["joins"] = tuple(
            Join.model_construct(**{**dict(join), **self._area(join, box)}) for join in form.joins)
        return OwnOutline.model_construct(**values)

    def _area(self, area: Area, box: Box) -> dict[str, Point]:
        """An area of the embedded control's box, as one of the host's."""
        x, y, width, height = box
        return {
            "x": (self.layer.position[0], x + area.x[0] * width + area.x[1] - self.half[0]),
            "y": (self.layer.position[1], y + area.y[0] * height + area.y[1] - self.half[1]),
            "width": (0.0, area.width[0] * width + area.width[1]),
            "height": (0.0, area.height[0] * height + area.height[1]),
        }
