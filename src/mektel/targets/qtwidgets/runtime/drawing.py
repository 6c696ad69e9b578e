"""A control in one look: its layers, back to front."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from copy import copy
from functools import reduce
from math import ceil
from operator import or_

from .design import Design, Part, Parts
from .frames import Cache
from .labels import Text, has_effects, paint_label, text_width
from .lamps import paint_lamp
from .mirroring import mirrored
from .outlines import Outline, moved, outline_of, place_of, turn
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
BAND = 800_000  # pixels that are painted at once of a large picture
pictures: Cache[QtGui.QImage] = Cache(KEPT, QtGui.QImage.sizeInBytes)


class Drawing:
    """Paints every part's values, those of the states that hold.

    ``room`` is the size of box and bleed in px, ``box`` lies in it; ``ratio`` is pixels per px.
    """

    def __init__(
        self, design: Design, parts: Parts, text: Text, box: QtCore.QRectF, room: QtCore.QSize,
        ratio: float, from_right: bool, holding: frozenset[str],
    ) -> None:
        self.design, self.text, self.box, self.room = design, text, box, room
        self.ratio, self.from_right, self.holding, self.given = ratio, from_right, holding, parts
        self.parts = {name: mirrored(part) for name, part in parts.items()
                      } if from_right else parts
        # Of the picture that is painted on, or of the band of one: where it begins, and its size.
        self._base, self._size = QtGui.QTransform(), room

    def paint(self, painter: QtGui.QPainter, top: float = 0.0, high: float | None = None) -> None:
        """All of it, or ``high`` px of it from ``top`` on."""
        self._base = QtGui.QTransform.fromTranslate(0, top) * painter.worldTransform()
        self._size = QtCore.QSize(self.room.width(), self.room.height() if high is None else
                                  ceil(high))
        painter.setRenderHints(SMOOTH)
        if not self.design.isolated:
            self._paint_parts(painter)
            return
        # Blended among themselves, not with what the control stands on.
        whole = self._apart(painter, self._paint_parts)
        painter.setWorldTransform(self._base)
        painter.setOpacity(self.parts["outline"].get("opacity", 1))
        painter.drawImage(0, 0, whole)

    def _paint_apart(
        self, painter: QtGui.QPainter, paint: Callable[[QtGui.QPainter], object]
    ) -> None:
        """Paints on nothing, then lays that down as one."""
        whole = self._apart(painter, paint)
        painter.setWorldTransform(self._base)
        painter.drawImage(0, 0, whole)

    def _apart(
        self, painter: QtGui.QPainter, paint: Callable[[QtGui.QPainter], object]
    ) -> QtGui.QImage:
        """A picture of the whole room of what is painted on nothing."""
        def draw(inside: QtGui.QPainter) -> None:
            inside.setRenderHints(painter.renderHints())
            if painter.hasClipping():
                inside.setClipRect(QtCore.QRectF(QtCore.QPointF(), QtCore.QSizeF(self._size)))
            inside.setWorldTransform(painter.worldTransform() * self._base.inverted()[0])
            base, self._base = self._base, QtGui.QTransform()
            paint(inside)
            self._base = base

        return picture(self._size, self.ratio, (0.0, 0.0), draw)

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
        self._paint_layers(painter, run, outline, body)

    def _paint_layers(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part
    ) -> None:
        self._paint_run(painter, run, outline, body)

    def _paint_run(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part,
        beyond: Sequence[tuple[str, Part]] = (),
    ) -> None:
        """Some layers; ``beyond`` are those that lie above them."""
        grown = self._text_growth()
        groups = tuple(
            f"{name}--" for name, part in [*run, *beyond] if part["kind"] == "group")
        for at, (name, part) in enumerate(run):
            if name.startswith(groups):
                continue  # painted with what embeds it
            painter.save()
            painter.setOpacity(part.get("opacity", 1))
            if grown and name in self.design.following:
                moved_by = self.design.following[name] * grown
                painter.translate(-moved_by if self.from_right else moved_by, 0)
            if part.get("blend", "normal") != "normal":
                painter.setCompositionMode(MODES[part["blend"]])
            turn(painter, part, outline.box)
            if part["kind"] == "group":
                inner = [layer for layer in run[at + 1 :] if layer[0].startswith(f"{name}--")]
                self._paint_group(painter, part, inner, outline, body)
            else:
                above = [layer for other, layer in [*run[at + 1 :], *beyond]
                         if not other.startswith(groups)]
                self._paint_layer(painter, part, outline, body, above)
            painter.restore()

    def _paint_layer(
        self, painter: QtGui.QPainter, part: Part, outline: Outline, body: Part,
        above: list[Part],
    ) -> None:
        design, kind = self.design, part["kind"]
        place = place_of(part, outline)
        if kind == "label":
            self._paint_as_one(painter, part, has_effects(part), lambda on: paint_label(
                on, part, outline.box, body["padding"][0], self.text, design, self.ratio))
        elif kind == "shadow":
            paint_shadow(painter, part, place, hides(part, above), self.ratio)
        elif kind == "inner-shadow":
            paint_inner_shadow(painter, part, place, self.ratio)
        elif kind == "baked":
            # A layer that shows nothing in these states has no picture.
            if "picture" in part:
                paint_picture(painter, design, part, self.box, self.ratio, self.from_right)
        elif kind == "strokes":
            paint_strokes(painter, part, outline)
        elif kind == "lamp":
            self._paint_as_one(painter, part, True, lambda on: paint_lamp(
                on, part, outline.box, self.ratio))
        elif kind == "gloss":
            paint_gloss(painter, part, place)
        elif kind == "fill":
            paint_fill(painter, part, place, drawn_in(part, above))
        else:
            paint_line(painter, part, place)

    def _paint_group(
        self, painter: QtGui.QPainter, part: Part, inner: Run, outline: Outline, body: Part,
    ) -> None:
        """The layers of an embedded look, faded and blended as one."""
        apart = part.get("opacity", 1) < 1 or part.get("blend", "normal") != "normal"
        if not apart and all(layer.get("blend", "normal") == "normal" for _, layer in inner):
            self._paint_run(painter, inner, outline, body)
            return
        self._paint_apart(painter, lambda inside: self._paint_run(inside, inner, outline, body))

    def _paint_as_one(
        self, painter: QtGui.QPainter, part: Part, several: bool,
        paint: Callable[[QtGui.QPainter], object],
    ) -> None:
        """A layer of several things is faded and blended as one: none shows through another."""
        plain = part.get("opacity", 1) == 1 and part.get("blend", "normal") == "normal"
        if plain or not several:
            paint(painter)
        else:
            self._paint_apart(painter, paint)

    def _text_growth(self) -> float:
        """How much wider than designed the text is that the content beside it makes room for."""
        if not self.design.following:
            return 0.0
        label = label_of(self.parts)
        return text_width(label, self.text.shown, self.design) - self.design.text_width


def empty(room: QtCore.QSize, ratio: float, start: tuple[float, float]) -> QtGui.QImage:
    """A picture of the whole room; ``start`` is where px begin in its first pixel."""
    image = QtGui.QImage(
        ceil(room.width() * ratio + start[0]), ceil(room.height() * ratio + start[1]),
        QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(QtCore.Qt.GlobalColor.transparent)
    return image


def picture(
    room: QtCore.QSize, ratio: float, start: tuple[float, float],
    paint: Callable[[QtGui.QPainter], object],
) -> QtGui.QImage:
    image = empty(room, ratio, start)
    with painter_on(image) as painter:
        painter.translate(start[0] / ratio, start[1] / ratio)
        paint(painter)
    return image


def in_bands(
    drawing: Drawing, start: tuple[float, float], done: Callable[[QtGui.QImage], object]
) -> Iterator[None]:
    """Makes a large picture step by step: first the blurs that all bands take from, by a row that
    is not to be seen.
    """
    ratio, image = drawing.ratio, empty(drawing.room, drawing.ratio, start)
    yield
    rows = max(1, BAND // image.width())
    blurred = [name for name, part in drawing.parts.items() if part.get("blur", 0)]
    bands = [(image.height() // 2, 1)] * len(blurred)
    bands += [(top, rows) for top in range(0, image.height(), rows)]
    for at, (top, high) in enumerate(bands):
        part = copy(drawing)
        if at < len(blurred):
            part.parts = {name: {**values, "visible": name == blurred[at]}
                          for name, values in drawing.parts.items()}
        elif at == len(blurred):
            image.fill(QtCore.Qt.GlobalColor.transparent)
        with painter_on(image) as painter:
            painter.setClipRect(QtCore.QRectF(
                0, top / ratio, image.width() / ratio, high / ratio))
            painter.translate(start[0] / ratio, start[1] / ratio)
            part.paint(painter, (top - start[1]) / ratio, high / ratio)
        yield
    done(image)


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


def label_of(parts: Parts) -> Part:
    """The label that shows the control's text."""
    return next(part for part in parts.values()
                if part.get("kind") == "label" and part.get("text") is None)
