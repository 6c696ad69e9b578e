"""A control in one look: its layers, back to front."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from .answers import Mark
from .design import Design, Part, Parts
from .labels import Text, has_effects, paint_label, text_width
from .lamps import paint_lamp
from .mirroring import mirrored
from .outlines import Outline, body_path, moved, outline_of, own_outline, turn
from .painting import (
    MODES,
    is_opaque,
    lies_with,
    paint_fill,
    paint_gloss,
    paint_line,
    paint_strokes,
)
from .pictures import paint_picture
from .qt import QtCore, QtGui, painter_on
from .shadows import paint_inner_shadow, paint_shadow

Run = list[tuple[str, Part]]


class Drawing:
    """Paints every part's values, those of the states that hold.

    ``room`` is the size of box and bleed in px, ``box`` lies in it; ``ratio`` is pixels per px.
    """

    def __init__(
        self, design: Design, parts: Parts, text: Text, box: QtCore.QRectF, room: QtCore.QSize,
        ratio: float, from_right: bool, marks: Sequence[Mark] = (),
    ) -> None:
        self.design, self.text, self.box, self.room = design, text, box, room
        self.ratio, self.from_right, self.marks = ratio, from_right, marks
        self.parts = {name: mirrored(part, design.size[0]) for name, part in parts.items()
                      } if from_right else parts
        self._base = QtGui.QTransform()

    def paint(self, painter: QtGui.QPainter) -> None:
        self._base = painter.worldTransform()
        painter.setRenderHints(QtGui.QPainter.RenderHint.Antialiasing
                               | QtGui.QPainter.RenderHint.SmoothPixmapTransform)
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
        whole = QtGui.QImage(
            self.room * self.ratio, QtGui.QImage.Format.Format_ARGB32_Premultiplied)
        whole.setDevicePixelRatio(self.ratio)
        whole.fill(QtCore.Qt.GlobalColor.transparent)
        with painter_on(whole) as inside:
            inside.setRenderHints(painter.renderHints())
            inside.setWorldTransform(painter.worldTransform() * self._base.inverted()[0])
            base, self._base = self._base, QtGui.QTransform()
            paint(inside)
            self._base = base
        return whole

    def _paint_parts(self, painter: QtGui.QPainter) -> None:
        body = self.parts["outline"]
        outline = moved(outline_of(body, self.box), *body["offset"])
        layers = {name: part for name, part in self.parts.items() if name != "outline"}
        shown = {name: part for name, part in layers.items()
                 if part.get("visible", True) and part.get("opacity", 1) > 0}
        gone = tuple(f"{name}--" for name, part in layers.items()
                     if part["kind"] == "group" and name not in shown)
        run = [(name, part) for name, part in shown.items() if not name.startswith(gone)]
        if self.marks:
            at = next((at for at, (name, _) in enumerate(run) if name in self.design.content),
                      len(run))
            marks: Run = [(f"={n}", {"kind": "mark", "mark": mark, "opacity": mark.opacity})
                          for n, mark in enumerate(self.marks)]
            run[at:at] = marks
        self._paint_run(painter, run, outline, body)

    def _paint_run(
        self, painter: QtGui.QPainter, run: Run, outline: Outline, body: Part
    ) -> None:
        grown = self._text_growth() if self.design.following else 0.0
        groups = tuple(f"{name}--" for name, part in run if part["kind"] == "group")
        for at, (name, part) in enumerate(run):
            if name.startswith(groups):
                continue  # painted with what embeds it
            painter.save()
            painter.setOpacity(part.get("opacity", 1))
            moved_by = self.design.following.get(name, 0) * grown
            painter.translate(-moved_by if self.from_right else moved_by, 0)
            painter.setCompositionMode(MODES[part.get("blend", "normal")])
            turn(painter, part, outline.box)
            if part["kind"] == "group":
                inner = [layer for layer in run[at + 1 :] if layer[0].startswith(f"{name}--")]
                self._paint_group(painter, part, inner, outline, body)
            else:
                above = [layer for other, layer in run[at + 1 :] if not other.startswith(groups)]
                self._paint_layer(painter, part, outline, body, above)
            painter.restore()

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
            hidden = not part.get("cut") and any(
                is_opaque(layer) and lies_with(part, layer) for layer in above)
            paint_shadow(painter, part, place, hidden, self.ratio, design.size)
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
            paint_fill(painter, part, place, above, design.size)
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
        label = label_of(self.parts)
        return text_width(label, self.text.shown, self.design) - self.design.text_width


def label_of(parts: Parts) -> Part:
    """The label that shows the control's text."""
    return next(part for part in parts.values()
                if part.get("kind") == "label" and part.get("text") is None)
