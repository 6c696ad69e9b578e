"""A control at a moment on its way: what of it stands still is one picture, which is kept."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from typing import Any, NamedTuple

from ..brushes import brush_of
from ..design import Part, Parts
from ..drawing import Drawing, Run, cropped, picture, pictures
from ..outlines import Outline, body_path, grown, moved, outline_of, path_of, place_of
from ..painting import MODES, drawn_in, hides, hides_edge, is_opaque
from ..pictures import paint_picture
from ..qt import QtCore, QtGui

# Values that leave a layer's picture as it is, or the area that a fill covers; and those that move
# it, or have it blended.
FADING = frozenset({"opacity", "visible", "share"})
PAINT: frozenset[str] = FADING | {"colour", "stops", "direction", "ends", "centre", "reach"}
TURNING = frozenset({"move", "rotate", "scale", "blend"})


class Mark(NamedTuple):
    """A disc on the face; places and lengths in px of the box."""

    colour: str
    x: float
    y: float
    radius: float
    opacity: float
    within: bool


class Step(NamedTuple):
    """Layers that are painted anew beneath others, or a picture; that of one which fades has its
    name. A fill that only changes its paint has the area that it fills, and the box of its
    gradient.
    """

    names: tuple[str, ...]
    beneath: tuple[str, ...] = ()
    picture: QtGui.QImage | None = None
    at: QtCore.QPointF = QtCore.QPointF()
    area: QtGui.QPainterPath | None = None
    box: QtCore.QRectF = QtCore.QRectF()


Plan = list[Step]


class Frame:
    """A control at a moment: its values, what is drawn on its face, and how all of it is placed
    about its middle; ``content`` are the layers above its marks, ``plans`` how the frame before
    was painted.
    """

    def __init__(
        self, parts: Parts, size: tuple[float, float], content: tuple[str, ...],
        plans: dict[Hashable, Plan],
    ) -> None:
        self.parts, self.size, self.content, self.plans = parts, size, content, plans
        self.marks: list[Mark] = []
        self.x = self.y = self.turn = self.across = self.down = 0.0
        self.scale = 1.0

    def placing(self, box: QtCore.QRectF) -> QtGui.QTransform | None:
        """None for as it is."""
        if not any((self.x, self.y, self.turn, self.across, self.down, self.scale != 1)):
            return None
        middle = box.center()
        placed = QtGui.QTransform.fromTranslate(middle.x() + self.x, middle.y() + self.y)
        placed.rotate(self.turn).scale(max(0.01, self.scale), max(0.01, self.scale))
        placed.shear(math.tan(math.radians(self.across)), math.tan(math.radians(self.down)))
        return placed.translate(-middle.x(), -middle.y())

    def drawing(
        self, at_rest: Drawing, key: Hashable, start: tuple[float, float] | None
    ) -> Drawing:
        """What paints it on the way to ``at_rest``; layers that look as they do there are kept by
        ``key`` where px begin at ``start`` in their first pixel.
        """
        return MovingDrawing(self, at_rest, key, start)


class MovingDrawing(Drawing):
    """A drawing of a frame."""

    def __init__(
        self, frame: Frame, rest: Drawing, key: Hashable, start: tuple[float, float] | None
    ) -> None:
        super().__init__(rest.design, frame.parts, rest.text, rest.box, rest.room, rest.ratio,
                         rest.from_right, rest.holding)
        self._marks, self._content, self._rest = frame.marks, frame.content, rest.given
        self._key, self._start, self._plans = key, start, frame.plans
        self._looks: Hashable = None
        self._standing = set() if start is None else {
            name for name, part in frame.parts.items() if rest.given.get(name) is part}

    def _paint_parts(self, painter: QtGui.QPainter) -> None:
        """As the frame before, where the same layers move."""
        self._looks = self._look_of_plan()
        plan = self._plans.get(self._looks)
        if plan is None:
            super()._paint_parts(painter)
            return
        body, parts = self.parts["outline"], {**self.parts, **dict(self._mark_layers())}
        outline = moved(outline_of(body, self.box), *body["offset"])
        for names, beneath, image, at, area, box in plan:
            if area is not None:
                part = parts[names[0]]
                painter.setOpacity(part.get("opacity", 1))
                painter.fillPath(area, brush_of(part, box))
                painter.setOpacity(1)
            elif image is None:
                self._paint_run(painter, [(name, parts[name]) for name in names], outline, body,
                                [(name, parts[name]) for name in beneath])
            elif names:
                self._paint_faded(painter, parts[names[0]], image, at)
            else:
                painter.drawImage(at, image)

    def _look_of_plan(self) -> Hashable:
        """What a plan depends on."""
        if self._start is None or "outline" not in self._standing:
            return None
        return (self._key, self._start, len(self._marks), self._text_growth(), *(
            (self._only_changes(name, part), *_role(name, part))
            for name, part in self.given.items() if name not in self._standing))

    def _mark_layers(self) -> Run:
        return [(f"={n}", {"kind": "mark", "mark": mark, "opacity": mark.opacity})
                for n, mark in enumerate(self._marks)]

    def _paint_layers(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part
    ) -> None:
        run = _mixed(run)
        at = next((at for at, (name, _) in enumerate(run) if name in self._content), len(run))
        run[at:at] = self._mark_layers()
        if self._looks is None:
            self._paint_run(painter, run, outline, body)
            return
        units, plan = _units(run), Plan()
        at = 0
        while at < len(units):
            end = at
            while end < len(units) and self._stands(units[end], at == 0):
                end += 1
            stands, end = end > at, max(end, at + 1)
            run, beyond = _joined(units[at:end]), _joined(units[end:])
            if stands:
                step = self._still(painter, run, outline, body, beyond)
                plan.append(step)
                painter.drawImage(step.at, step.picture or QtGui.QImage())
            elif len(run) == 1 and self._only_changes(*run[0]) is FADING:
                name, part = run[0]
                whole = {**part, "opacity": 1, "blend": "normal"}
                step = self._still(painter, [(name, whole)], outline, body, beyond)
                plan.append(step._replace(names=(name,)))
                self._paint_faded(painter, part, step.picture, step.at)
            else:
                step = Step(tuple(name for name, _ in run), tuple(name for name, _ in beyond))
                name, part = run[0]
                if part["kind"] == "fill" and self._only_changes(name, part) is PAINT:
                    grow = drawn_in(part, [layer for _, layer in beyond])
                    place = place_of(part, outline)
                    step = step._replace(area=path_of(grown(place, grow)),
                                         box=grown(place, part["expand"]).bounds)
                plan.append(step)
                self._paint_run(painter, run, outline, body, beyond)
            at = end
        self._plans.clear()
        if not any(part["kind"] == "mixed" for unit in units for _, part in unit):
            self._plans[self._looks] = plan

    def _stands(self, unit: Run, lowest: bool) -> bool:
        """Whether a layer looks the same in every frame, whatever lies beneath it."""
        alone = lowest and self.design.isolated
        return all(name in self._standing and (alone or part.get("blend", "normal") == "normal")
                   for name, part in unit)

    def _only_changes(self, name: str, part: Part) -> frozenset[str] | None:
        """Which values a layer differs by from what it is at rest, if by no others."""
        rest = self._rest.get(name)
        if rest is None or part.get("kind") in (None, "group", "mixed"):
            return None
        changed = {key for key, value in self.given[name].items() if value is not rest.get(key)}
        if name in self.design.following or not changed <= PAINT:
            return None
        return FADING if changed <= FADING else None if TURNING.intersection(part) else PAINT

    def _paint_faded(
        self, painter: QtGui.QPainter, part: Part, whole: QtGui.QImage | None, at: QtCore.QPointF
    ) -> None:
        """Such a layer, by a picture of all of it."""
        painter.save()
        painter.setOpacity(part.get("opacity", 1))
        painter.setCompositionMode(MODES[part.get("blend", "normal")])
        if whole is not None:
            painter.drawImage(at, whole)
        painter.restore()

    def _still(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part,
        beyond: Sequence[tuple[str, Part]],
    ) -> Step:
        """Layers that stand still, as one picture that is kept."""
        assert self._start is not None
        x, y = self._start
        above = [*run, *beyond]
        key = (self._key, x, y, self._text_growth(), *(
            (name, part.get("opacity", 1), part.get("blend", "normal"),
             _beneath(part, [layer for _, layer in above[at:]]))
            for at, (name, part) in enumerate(run, 1)))

        def make() -> QtGui.QImage:
            return cropped(picture(self.room, self.ratio, (x, y), draw_run))

        def draw_run(inside: QtGui.QPainter) -> None:
            inside.setRenderHints(painter.renderHints())
            base, self._base = self._base, inside.worldTransform()
            self._paint_run(inside, run, outline, body, beyond)
            self._base = base

        image = pictures.get(key, make)
        at = QtCore.QPointF(image.offset().x() - x, image.offset().y() - y) / self.ratio
        return Step((), (), image, at)

    def _paint_layer(
        self, painter: QtGui.QPainter, part: Part, outline: Outline, body: Part, above: list[Part]
    ) -> None:
        if part["kind"] == "mark":
            self._paint_mark(painter, part["mark"], body)
        elif part["kind"] == "mixed":
            self._paint_apart(painter, lambda on: self._paint_versions(on, part["versions"]))
        else:
            super()._paint_layer(painter, part, outline, body, above)

    def _paint_versions(self, painter: QtGui.QPainter, versions: Sequence[Part]) -> None:
        """Pictures that fade into each other: each in its share, nothing shows through; those that
        lie where the outline of their states does go with it.
        """
        side = -1 if self.from_right else 1
        x, y = self.parts["outline"]["offset"]
        to_x, to_y = (x, y) if self._start is None else self._rest["outline"]["offset"]
        places = [self.design.pictures[part["picture"]].place for part in versions]
        ways = [(side * (places[-1][0] - place[0]), places[-1][1] - place[1]) for place in places]
        painter.setCompositionMode(QtGui.QPainter.CompositionMode.CompositionMode_Plus)
        for part, (across, down) in zip(versions, ways, strict=True):
            painter.save()
            if any(map(any, ways)):
                painter.translate(x - to_x + across, y - to_y + down)
            painter.setOpacity(part.get("opacity", 1))
            paint_picture(painter, self.design, part, self.box, self.ratio, self.from_right)
            painter.restore()

    def _paint_mark(self, painter: QtGui.QPainter, mark: Mark, body: Part) -> None:
        disc = QtGui.QPainterPath()
        disc.addEllipse(
            self.box.topLeft() + QtCore.QPointF(mark.x, mark.y), mark.radius, mark.radius)
        if mark.within:
            face = body_path(body, self.box)
            disc = face if disc.contains(face.boundingRect()) else disc.intersected(face)
        painter.fillPath(disc, QtGui.QColor(mark.colour))


def _role(name: str, part: Part) -> tuple[Any, ...]:
    """What of a layer decides how those beneath it are painted, and whether it is."""
    shown = part.get("visible", True) and part.get("opacity", 1) > 0
    if part.get("kind") == "fill":
        return name, shown, is_opaque(part), part["expand"], "own_box" in part
    if part.get("kind") == "line":
        return name, shown, hides_edge(part), part["width"], part["gap"], "own_box" in part
    return name, shown


def _beneath(part: Part, above: list[Part]) -> float:
    """What those above make of a layer."""
    if part["kind"] == "fill":
        return drawn_in(part, above)
    return float(part["kind"] == "shadow" and hides(part, above))


def _mixed(run: Run) -> Run:
    """The versions of a picture as one layer where the last of them is."""
    names = [name.rstrip("~") for name, part in run if part["kind"] == "baked"]
    several = {name for name in names if names.count(name) > 1}
    made: Run = []
    left, versions = {name: names.count(name) for name in several}, dict[str, list[Part]]()
    for name, part in run:
        first = name.rstrip("~")
        if part["kind"] != "baked" or first not in several:
            made.append((name, part))
            continue
        left[first] -= 1
        versions.setdefault(first, []).extend([part] if "picture" in part else [])
        if not left[first] and versions[first]:
            made.append((name, {
                **part, "kind": "mixed", "opacity": 1, "versions": versions[first]}))
    return made


def _units(run: Run) -> list[Run]:
    """Layers, each with those that it embeds."""
    units: list[Run] = []
    for name, part in run:
        if units and name.startswith(f"{units[-1][0][0]}--"):
            units[-1].append((name, part))
        else:
            units.append([(name, part)])
    return units


def _joined(units: list[Run]) -> Run:
    return [layer for unit in units for layer in unit]
