"""A control in one look: its layers, back to front."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from functools import reduce
from math import ceil
from operator import or_
from typing import NamedTuple

from .answers import Mark
from .design import Design, Part, Parts
from .frames import Cache
from .labels import Text, has_effects, paint_label, text_width
from .lamps import paint_lamp
from .mirroring import mirrored
from .outlines import Outline, body_path, moved, outline_of, own_outline, turn
from .painting import (
    MODES,
    drawn_in,
    hides,
    paint_fill,
    paint_gloss,
    paint_line,
    paint_strokes,
)
from .pictures import paint_picture
from .qt import SMOOTH, QtCore, QtGui, bytes_of, painter_on
from .shadows import paint_inner_shadow, paint_shadow

Run = list[tuple[str, Part]]
# Bytes of all pictures that are kept, and of the largest that is cropped.
KEPT, CROPPED = 64 << 20, 2 << 20
pictures: Cache[QtGui.QImage] = Cache(KEPT, QtGui.QImage.sizeInBytes)


class Still(NamedTuple):
    """The parts that a moving control comes to rest in, and all else that pictures of them depend
    on; ``start`` is where px begin in their first pixel."""

    parts: Parts
    key: Hashable
    start: tuple[float, float]


class Drawing:
    """Paints every part's values, those of the states that hold.

    ``room`` is the size of box and bleed in px, ``box`` lies in it; ``ratio`` is pixels per px.
    """

    def __init__(
        self, design: Design, parts: Parts, text: Text, box: QtCore.QRectF, room: QtCore.QSize,
        ratio: float, from_right: bool, marks: Sequence[Mark] = (), still: Still | None = None,
        holding: frozenset[str] = frozenset(),
    ) -> None:
        self.holding = holding
        self.design, self.text, self.box, self.room = design, text, box, room
        self.ratio, self.from_right, self.marks, self.still = ratio, from_right, marks, still
        self._standing = {name for name, part in parts.items()
                          if still.parts.get(name) is part} if still is not None else set()
        self.parts = {name: mirrored(part, design.size[0]) for name, part in parts.items()
                      } if from_right else parts
        self._base = QtGui.QTransform()

    def paint(self, painter: QtGui.QPainter) -> None:
        self._base = painter.worldTransform()
        painter.setRenderHints(SMOOTH)
        if not self.design.isolated:
            self._paint_parts(painter)
            return
        # Blended among themselves, not with what the control stands on.
        whole = self._apart(painter, self._paint_parts)
        painter.setOpacity(self.parts["outline"].get("opacity", 1))
        painter.drawImage(0, 0, whole)

    def _apart(
        self, painter: QtGui.QPainter, paint: Callable[[QtGui.QPainter], object]
    ) -> QtGui.QImage:
        """A picture of the whole room of what is painted on nothing."""
        def draw(inside: QtGui.QPainter) -> None:
            inside.setRenderHints(painter.renderHints())
            inside.setWorldTransform(painter.worldTransform() * self._base.inverted()[0])
            base, self._base = self._base, QtGui.QTransform()
            paint(inside)
            self._base = base

        return picture(self.room, self.ratio, (0.0, 0.0), draw)

    def _paint_parts(self, painter: QtGui.QPainter) -> None:
        body = self.parts["outline"]
        outline = moved(outline_of(body, self.box), *body["offset"])
        run, gone = [], []
        for name, part in self.parts.items():
            if name == "outline":
                continue
            if part.get("visible", True) and part.get("opacity", 1) > 0:
                run.append((name, part))
            elif part["kind"] == "group":
                gone.append(f"{name}--")
        if gone:
            run = [layer for layer in run if not layer[0].startswith(tuple(gone))]
        if self.marks:
            at = next((at for at, (name, _) in enumerate(run) if name in self.design.content),
                      len(run))
            marks: Run = [(f"={n}", {"kind": "mark", "mark": mark, "opacity": mark.opacity})
                          for n, mark in enumerate(self.marks)]
            run[at:at] = marks
        if self.still is None or "outline" not in self._standing:
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
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part, beyond: Run,
    ) -> None:
        """Layers that stand still, as one picture that is kept."""
        assert self.still is not None
        x, y = self.still.start
        key = (self.still.key, x, y, self._text_growth(), *(
            (name, self._beneath(part, run[at:], beyond)) for at, (name, part) in enumerate(run, 1)
        ))

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

    @staticmethod
    def _beneath(part: Part, run: Run, beyond: Run) -> float:
        """What those above make of a layer."""
        if part["kind"] == "fill":
            return drawn_in(part, [layer for _, layer in run + beyond])
        return float(part["kind"] == "shadow" and hides(part, [layer for _, layer in run + beyond]))

    def _paint_run(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part,
        beyond: Sequence[tuple[str, Part]] = (),
    ) -> None:
        grown = self._text_growth()
        groups = tuple(
            f"{name}--" for name, part in [*run, *beyond] if part["kind"] == "group")
        pictures_of = _versions(run)
        for at, (name, part) in enumerate(run):
            if name.startswith(groups) or (part["kind"] == "baked" and name not in pictures_of):
                continue  # painted with what embeds it, or with its last version
            versions = pictures_of.get(name, ())
            painter.save()
            painter.setOpacity(1.0 if len(versions) > 1 else part.get("opacity", 1))
            if grown and name in self.design.following:
                moved_by = self.design.following[name] * grown
                painter.translate(-moved_by if self.from_right else moved_by, 0)
            if part.get("blend", "normal") != "normal":
                painter.setCompositionMode(MODES[part["blend"]])
            turn(painter, part, outline.box)
            if len(versions) > 1:
                self._paint_mixed(painter, versions)
            elif part["kind"] == "group":
                inner = [layer for layer in run[at + 1 :] if layer[0].startswith(f"{name}--")]
                self._paint_group(painter, part, inner, outline, body)
            else:
                above = [layer for other, layer in [*run[at + 1 :], *beyond]
                         if not other.startswith(groups)]
                self._paint_layer(painter, part, outline, body, above)
            painter.restore()

    def _paint_mixed(self, painter: QtGui.QPainter, versions: Sequence[Part]) -> None:
        """Pictures that fade into each other: each in its share, nothing shows through; those that
        lie where the outline of their states does go with it.
        """
        versions = [part for part in versions if "picture" in part]
        if not versions:
            return
        side = -1 if self.from_right else 1
        x, y = to_x, to_y = self.parts["outline"]["offset"]
        if self.still is not None:
            to_x, to_y = self.still.parts["outline"]["offset"]
        places = [self.design.pictures[part["picture"]].place for part in versions]
        ways = [(side * (places[-1][0] - place[0]), places[-1][1] - place[1]) for place in places]

        def paint(inside: QtGui.QPainter) -> None:
            inside.setCompositionMode(QtGui.QPainter.CompositionMode.CompositionMode_Plus)
            for part, (across, down) in zip(versions, ways, strict=True):
                inside.save()
                if any(map(any, ways)):
                    inside.translate(x - to_x + across, y - to_y + down)
                inside.setOpacity(part.get("opacity", 1))
                paint_picture(inside, self.design, part, self.box, self.ratio, self.from_right)
                inside.restore()

        whole = self._apart(painter, paint)
        painter.setWorldTransform(self._base)
        painter.drawImage(0, 0, whole)

    def _paint_layer(
        self, painter: QtGui.QPainter, part: Part, outline: Outline, body: Part,
        above: list[Part],
    ) -> None:
        design, kind = self.design, part["kind"]
        place = own_outline(part["own_box"], outline.box) if "own_box" in part else outline
        if kind == "label":
            self._paint_as_one(painter, part, has_effects(part), lambda on: paint_label(
                on, part, outline.box, body["padding"][0], self.text, design, self.ratio))
        elif kind == "shadow":
            paint_shadow(painter, part, place, hides(part, above), self.ratio, design.size)
        elif kind == "inner-shadow":
            paint_inner_shadow(painter, part, place, self.ratio, design.size)
        elif kind == "baked":
            # A layer that shows nothing in these states has no picture.
            if "picture" in part:
                paint_picture(painter, design, part, self.box, self.ratio, self.from_right)
        elif kind == "strokes":
            paint_strokes(painter, part, outline)
        elif kind == "lamp":
            self._paint_as_one(painter, part, True, lambda on: paint_lamp(
                on, part, outline.box, self.ratio))
        elif kind == "mark":
            self._paint_mark(painter, part["mark"], body)
        elif kind == "gloss":
            paint_gloss(painter, part, place)
        elif kind == "fill":
            paint_fill(painter, part, place, drawn_in(part, above), design.size)
        else:
            paint_line(painter, part, place, design.size)

    def _paint_mark(self, painter: QtGui.QPainter, mark: Mark, body: Part) -> None:
        disc = QtGui.QPainterPath()
        disc.addEllipse(
            self.box.topLeft() + QtCore.QPointF(mark.x, mark.y), mark.radius, mark.radius)
        if mark.within:
            face = body_path(body, self.box, self.design.size)
            disc = face if disc.contains(face.boundingRect()) else disc.intersected(face)
        painter.fillPath(disc, QtGui.QColor(mark.colour))

    def _paint_group(
        self, painter: QtGui.QPainter, part: Part, inner: Run, outline: Outline, body: Part,
    ) -> None:
        """The layers of an embedded look, faded and blended as one."""
        apart = part.get("opacity", 1) < 1 or part.get("blend", "normal") != "normal"
        if not apart and all(layer.get("blend", "normal") == "normal" for _, layer in inner):
            self._paint_run(painter, inner, outline, body)
            return
        whole = self._apart(
            painter, lambda inside: self._paint_run(inside, inner, outline, body))
        painter.setWorldTransform(self._base)
        painter.drawImage(0, 0, whole)

    def _paint_as_one(
        self, painter: QtGui.QPainter, part: Part, several: bool,
        paint: Callable[[QtGui.QPainter], object],
    ) -> None:
        """A layer of several things is faded and blended as one: none shows through another."""
        plain = part.get("opacity", 1) == 1 and part.get("blend", "normal") == "normal"
        if plain or not several:
            paint(painter)
            return
        whole = self._apart(painter, paint)
        painter.setWorldTransform(self._base)
        painter.drawImage(0, 0, whole)

    def _text_growth(self) -> float:
        """How much wider than designed the text is that the content beside it makes room for."""
        if not self.design.following:
            return 0.0
        label = label_of(self.parts)
        return text_width(label, self.text.shown, self.design) - self.design.text_width


def picture(
    room: QtCore.QSize, ratio: float, start: tuple[float, float],
    paint: Callable[[QtGui.QPainter], object],
) -> QtGui.QImage:
    """A picture of the whole room; ``start`` is where px begin in its first pixel."""
    image = QtGui.QImage(
        ceil(room.width() * ratio + start[0]), ceil(room.height() * ratio + start[1]),
        QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(QtCore.Qt.GlobalColor.transparent)
    with painter_on(image) as painter:
        painter.translate(start[0] / ratio, start[1] / ratio)
        paint(painter)
    return image


def cropped(image: QtGui.QImage) -> QtGui.QImage:
    """What of a picture is painted; its offset is where that lies, in pixels. All of a large one:
    to look through that takes longer than is won.
    """
    if image.sizeInBytes() > CROPPED:
        return image
    cover = image.convertToFormat(QtGui.QImage.Format.Format_Alpha8)
    length, width, samples = cover.bytesPerLine(), cover.width(), bytes_of(cover)
    rows = [int.from_bytes(samples[at : at + width], "little")
            for at in range(0, len(samples), length)]
    painted = [at for at, row in enumerate(rows) if row]
    if not painted:
        return QtGui.QImage()
    top, bottom = painted[0], painted[-1]
    columns = reduce(or_, rows).to_bytes(width, "little")
    left, right = width - len(columns.lstrip(b"\0")), len(columns.rstrip(b"\0"))
    part = image.copy(left, top, right - left, bottom - top + 1)
    part.setOffset(QtCore.QPoint(left, top))
    return part


def _versions(run: Run) -> dict[str, list[Part]]:
    """The pictures of a run by the name of the last version that is seen, earlier ones before it.
    """
    made: dict[str, tuple[str, list[Part]]] = {}
    for name, part in run:
        if part["kind"] == "baked":
            _, versions = made.get(name.rstrip("~"), ("", []))
            made[name.rstrip("~")] = name, [*versions, part]
    return dict(made.values())


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


def label_of(parts: Parts) -> Part:
    """The label that shows the control's text."""
    return next(part for part in parts.values()
                if part.get("kind") == "label" and part.get("text") is None)
