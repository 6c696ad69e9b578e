"""The tool tip of a value: what it does, and two small pictures of the control that show it."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import (
    QBuffer,
    QByteArray,
    QEvent,
    QIODevice,
    QObject,
    QPoint,
    QPointF,
    QRectF,
    Qt,
)
from PySide6.QtGui import QColor, QHelpEvent, QImage, QPainter, QPainterPath
from PySide6.QtWidgets import QToolTip
from shiboken6 import isValid

from mektel.app.build.names import as_text
from mektel.app.pictures import Wanted, behind_for, draw
from mektel.app.theme import theme, ui_font
from mektel.app.widgets.backdrop import DECK, paint_backdrop
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.plain import as_markup, show_markup_tip
from mektel.app.workbench import Workbench
from mektel.core.look.value_examples import ValueExample, example_of

# Of each picture, and the room for its caption.
WIDTH, HEIGHT, CAPTION, GAP, SHARP = 148, 72, 20, 8, 2
SLOT = "value tip"


class ValueTip(QObject):
    """Adds the pictures to a dial's tip as soon as they are drawn; the words are there at once."""

    def __init__(self, bench: Workbench, dial: Dial, name: str) -> None:
        super().__init__(dial)
        self.bench, self.dial, self.name = bench, dial, name
        dial.label.entered.connect(lambda: dial.label.installEventFilter(self))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            control = self.bench.control
            if control is not None:
                kit, state, part = self.bench.drawn, self.bench.state, self.bench.part_id
                at, backdrop = event.globalPos(), self.bench.backdrop
                if getattr(control.part(part), "kind", "") == "lens":
                    backdrop = DECK  # glass shows nothing on a plain one

                def make() -> tuple[ValueExample, list[QImage]] | None:
                    example = example_of(kit, control, state, part, self.name)
                    return None if example is None else (example, _drawn(example, backdrop))

                self.bench.background.ask(SLOT, make, lambda made: self._show(made, backdrop, at))
        return False

    def _show(
        self, made: tuple[ValueExample, list[QImage]] | None, backdrop: str, at: QPoint
    ) -> None:
        if not isValid(self) or made is None or made[1][0] == made[1][1]:
            return  # no pixel tells them apart
        label = self.dial.label
        if not QToolTip.isVisible() or QToolTip.text() != label.toolTip():
            return  # the pointer has gone on
        picture = _beside(*made, self.name, backdrop)
        words = as_markup(label.toolTip())
        show_markup_tip(at, f"<p>{words}</p><p>{_tag(picture)}</p>", label)


def _tag(picture: QImage) -> str:
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    picture.save(buffer, "PNG")  # type: ignore[call-overload]
    size = picture.deviceIndependentSize().toSize()
    return (f'<img width="{size.width()}" height="{size.height()}" '
            f'src="data:image/png;base64,{content.toBase64().toStdString()}">')


AREA = QRectF(0, 0, WIDTH, HEIGHT)


def _drawn(example: ValueExample, backdrop: str) -> list[QImage]:
    look, margins = example.before, example.margins
    across = (WIDTH - GAP) / (look.width + margins.left + margins.right)
    down = (HEIGHT - GAP) / (look.height + margins.top + margins.bottom)
    share = min(1.0, across, down)
    corner = AREA.center() - QRectF(0, 0, (WIDTH - GAP) * share / across,
                                    (HEIGHT - GAP) * share / down).center()
    pictures = [draw(Wanted(side, share * SHARP, margins, behind=behind_for(
        side, backdrop, AREA, corner, SHARP))) for side in (example.before, example.after)]
    for picture in pictures:
        picture.setDevicePixelRatio(SHARP)
    return pictures


def _beside(example: ValueExample, pictures: list[QImage], name: str, backdrop: str) -> QImage:
    """Both looks side by side, each with its value."""
    whole = QImage((2 * WIDTH + GAP) * SHARP, (HEIGHT + CAPTION) * SHARP,
                   QImage.Format.Format_ARGB32_Premultiplied)
    whole.setDevicePixelRatio(SHARP)
    whole.fill(Qt.GlobalColor.transparent)
    painter = QPainter(whole)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(ui_font(11))
    for at, (picture, value, words) in enumerate(zip(
            pictures, (example.value, example.moved), ("now", "for instance"), strict=True)):
        tile = AREA.translated(at * (WIDTH + GAP), 0)
        size = picture.deviceIndependentSize()
        clip = QPainterPath()
        clip.addRoundedRect(tile, 4, 4)
        painter.setClipPath(clip)
        paint_backdrop(painter, tile, backdrop, 4)
        painter.drawImage(tile.center() - QPointF(size.width() / 2, size.height() / 2), picture)
        painter.setClipping(False)
        painter.setPen(QColor(theme().panel))
        painter.drawText(QRectF(tile.x(), HEIGHT, WIDTH, CAPTION), Qt.AlignmentFlag.AlignCenter,
                         f"{words}: {_said(name, value)}")
    painter.end()
    return whole


def _said(name: str, value: Any) -> str:
    if isinstance(value, tuple) and len(set(value)) == 1:
        value = value[0]
    return as_text(name.split(".")[-1], value)
