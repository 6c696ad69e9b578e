"""A control at a moment on its way: what of it stands still is one picture, which is kept."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from typing import NamedTuple

from ..design import Part, Parts
from ..drawing import Drawing, Run, cropped, picture, pictures
from ..outlines import Outline, body_path
from ..painting import drawn_in, hides
from ..pictures import paint_picture
from ..qt import QtCore, QtGui


class Mark(NamedTuple):
    """A disc on the face; places and lengths in px of the box."""

    colour: str
    x: float
    y: float
    radius: float
    opacity: float
    within: bool


class Frame:
    """A control at a moment: its values, what is drawn on its face, and how all of it is placed
    about its middle; ``content`` are the layers above its marks.
    """

    def __init__(
        self, parts: Parts, size: tuple[float, float], content: tuple[str, ...]
    ) -> None:
        self.parts, self.size, self.content = parts, size, content
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
        self._key, self._start = key, start
        self._standing = set() if start is None else {
            name for name, part in frame.parts.items() if rest.given.get(name) is part}

    def _paint_layers(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part
    ) -> None:
        run = _mixed(run)
        if self._marks:
            at = next((at for at, (name, _) in enumerate(run) if name in self._content), len(run))
            run[at:at] = [(f"={n}", {"kind": "mark", "mark": mark, "opacity": mark.opacity})
                          for n, mark in enumerate(self._marks)]
        if "outline" not in self._standing:
            self._paint_run(painter, run, outline, body)
            return
        units = _units(run)
        at = 0
        while at < len(units):
            end = at
            while end < len(units) and self._stands(units[end], at == 0):
                end += 1
            stands, end = end > at, max(end, at + 1)
            paint = self._paint_still if stands else self._paint_run
            paint(painter, _joined(units[at:end]), outline, body, _joined(units[end:]))
            at = end

    def _stands(self, unit: Run, lowest: bool) -> bool:
        """Whether a layer looks the same in every frame, whatever lies beneath it."""
        alone = lowest and self.design.isolated
        return all(name in self._standing and (alone or part.get("blend", "normal") == "normal")
                   for name, part in unit)

    def _paint_still(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part,
        beyond: Sequence[tuple[str, Part]],
    ) -> None:
        """Layers that stand still, as one picture that is kept."""
        assert self._start is not None
        x, y = self._start
        above = [*run, *beyond]
        key = (self._key, x, y, self._text_growth(), *(
            (name, _beneath(part, [layer for _, layer in above[at:]]))
            for at, (name, part) in enumerate(run, 1)))

        def make() -> QtGui.QImage:
            return cropped(picture(self.room, self.ratio, (x, y), draw_run))

        def draw_run(inside: QtGui.QPainter) -> None:
            inside.setRenderHints(painter.renderHints())
            base, self._base = self._base, inside.worldTransform()
            self._paint_run(inside, run, outline, body, beyond)
            self._base = base

        image = pictures.get(key, make)
        if not image.isNull():
            painter.drawImage(QtCore.QPointF(image.offset().x() - x, image.offset().y() - y)
                              / self.ratio, image)

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
