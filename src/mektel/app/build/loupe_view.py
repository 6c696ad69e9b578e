"""The loupe's view: a state large, with handles on the picture for what the open card holds."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QWheelEvent
from PySide6.QtWidgets import QWidget

from mektel.app.build.names import step_name
from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import paint_focus, theme, ui_font
from mektel.app.widgets.backdrop import paint_backdrop
from mektel.app.widgets.colour_swatch import qcolour
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.kit import OUTLINE, Stop
from mektel.core.kit import edit as edits
from mektel.core.look import label_at, parse_flags, settled
from mektel.core.look.handles import (
    STOP,
    Box,
    Handle,
    dragged,
    gradient_line,
    handles,
    paint_box,
    position_on_line,
    snapped,
)
from mektel.core.slices import control_insets

ZOOMS = (0.25, 0.5, 0.75, 1, 1.5, 2, 3, 4, 6, 8, 12, 16, 24, 32)
GRAB = 11.0
PULL_OFF = 44.0
BEYOND = 20.0
# From here on single pixels are seen; finer pictures than this are not drawn.
FINEST = 8.0


class LoupeView(ShowsPictures, QWidget):
    """Picture and handles. Tab goes from handle to handle, arrow keys nudge the selected one."""

    zoomed = Signal()

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.watch(bench.pictures)
        self.watch_looks(bench.looks)
        self.zoom = 0.0  # 0 stands for as large as fits
        self.pan = QPointF(0, 0)
        self.pixels = False
        self.zones = False
        self.selected = ""
        self._turning = ""  # the part that was turned last, which may stand upright by now
        self._guides: list[tuple[str, float]] = []
        self._dragging = False
        self._pulled_off = False
        self._panning: QPointF | None = None
        self._hovered = ""
        self._grip = QPointF(0, 0)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Close-up")

    # Where things are

    def fitting(self) -> float:
        control = self.bench.control
        if control is None:
            return 1.0
        width, height = self.bench.shown_size
        fits = min((self.width() - 80) / width, (self.height() - 80) / height)
        return max([z for z in ZOOMS if z <= fits] or [ZOOMS[0]])

    @property
    def scale(self) -> float:
        """Screen px per px of the control."""
        return self.zoom or self.fitting()

    def origin(self) -> QPointF:
        control = self.bench.control
        assert control is not None
        width, height = self.bench.shown_size
        x = self.width() / 2 - width * self.scale / 2 + self.pan.x()
        y = self.height() / 2 - height * self.scale / 2 + self.pan.y()
        return QPointF(round(x), round(y))

    def to_screen(self, x: float, y: float) -> QPointF:
        return self.origin() + QPointF(x, y) * self.scale

    def to_control(self, at: QPointF) -> tuple[float, float]:
        spot = (at - self.origin()) / self.scale
        return spot.x(), spot.y()

    def shown(self) -> list[Handle]:
        control = self.bench.control
        if control is None:
            return []
        part = self.bench.part_id
        shown = handles(self.bench.kit, control, self.bench.state, part, part == self._turning)
        return shown + self._zone_handles() if self.zones else shown

    def spot_of(self, handle_id: str) -> QPoint:
        """Where a handle is on this widget."""
        return self._spot(next(h for h in self.shown() if h.id == handle_id)).toPoint()

    def _spot(self, handle: Handle) -> QPointF:
        """A line's own ends stand a little beyond it, clear of the stops that lie on it."""
        at = self.to_screen(handle.x, handle.y)
        if handle.id not in ("start", "end"):
            return at
        control = self.bench.control
        assert control is not None
        part = settled(self.bench.drawn, control).part_in(
            self.bench.part_id, parse_flags(self.bench.state))
        box = paint_box(
            settled(self.bench.drawn, control), self.bench.state, self.bench.part_id)
        start, end = (self.to_screen(*point) for point in gradient_line(part, box))
        along = end - start
        length = max(1e-6, (along.x() ** 2 + along.y() ** 2) ** 0.5)
        return at + along / length * (BEYOND if handle.id == "end" else -BEYOND)

    def _zone_handles(self) -> list[Handle]:
        control = self.bench.control
        assert control is not None
        width, height = self.bench.shown_size
        zones = control_insets(self.bench.kit, control)
        return [
            Handle("zone-0", "edge", zones.left, height * 0.2, "stretch zone, left"),
            Handle("zone-1", "edge", width * 0.2, zones.top, "stretch zone, top"),
            Handle("zone-2", "edge", width - zones.right, height * 0.2, "stretch zone, right"),
            Handle("zone-3", "edge", width * 0.2, height - zones.bottom, "stretch zone, bottom"),
        ]

    # Drawing

    def paintEvent(self, _event: object) -> None:
        control = self.bench.control
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_backdrop(painter, QRectF(self.rect()), self.bench.backdrop)
        if control is None:
            return
        painter.setClipRect(self.rect())
        self._paint_picture(painter)
        if self.pixels and self.scale / self.bench.density >= 8:
            self._paint_grid(painter)
        if self.zones:
            self._paint_zones(painter)
        self._paint_handles(painter)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_picture(self, painter: QPainter) -> None:
        bench, control = self.bench, self.bench.control
        assert control is not None
        resolved = self.look(bench.drawn, control, parse_flags(bench.state))
        if resolved is None:
            return  # painted once it is resolved
        look, margins = resolved.look, resolved.margins
        drawn_at = float(bench.density) if self.pixels else min(
            FINEST, self.scale * self.devicePixelRatioF())
        corner = self.to_screen(-margins.left, -margins.top)
        behind = behind_for(look, bench.backdrop, QRectF(self.rect()), corner,
                            drawn_at / self.scale)
        image = self.picture(Wanted(look, drawn_at, margins, bench.selection.solo or None, behind))
        if image is None:
            return
        smooth = QPainter.RenderHint.SmoothPixmapTransform
        painter.setRenderHint(smooth, not self.pixels)
        share = self.scale / drawn_at
        painter.drawImage(
            QRectF(corner.x(), corner.y(), image.width() * share, image.height() * share), image)
        painter.setRenderHint(smooth, True)

    def _paint_grid(self, painter: QPainter) -> None:
        step = self.scale / self.bench.density
        origin = self.origin()
        painter.setPen(QPen(QColor(128, 128, 128, 60), 1))
        x = origin.x() % step
        while x < self.width():
            painter.drawLine(QPointF(round(x) + 0.5, 0), QPointF(round(x) + 0.5, self.height()))
            x += step
        y = origin.y() % step
        while y < self.height():
            painter.drawLine(QPointF(0, round(y) + 0.5), QPointF(self.width(), round(y) + 0.5))
            y += step

    def _paint_zones(self, painter: QPainter) -> None:
        """What stretches is tinted; what keeps its form is left as it is."""
        control = self.bench.control
        assert control is not None
        width, height = self.bench.shown_size
        zones = control_insets(self.bench.kit, control)
        tint = QColor(theme().second)
        tint.setAlpha(40)
        left, right = self.to_screen(zones.left, 0), self.to_screen(width - zones.right, height)
        top, bottom = self.to_screen(0, zones.top), self.to_screen(width, height - zones.bottom)
        painter.fillRect(QRectF(left.x(), 0, right.x() - left.x(), self.height()), tint)
        painter.fillRect(QRectF(0, top.y(), self.width(), bottom.y() - top.y()), tint)
        painter.setPen(QPen(QColor(theme().second), 1, Qt.PenStyle.DashLine))
        for x in (left.x(), right.x()):
            painter.drawLine(QPointF(x, 0), QPointF(x, self.height()))
        for y in (top.y(), bottom.y()):
            painter.drawLine(QPointF(0, y), QPointF(self.width(), y))

    def _paint_handles(self, painter: QPainter) -> None:
        control = self.bench.control
        assert control is not None
        part = settled(self.bench.drawn, control).part_in(
            self.bench.part_id, parse_flags(self.bench.state))
        box = paint_box(
            settled(self.bench.drawn, control), self.bench.state, self.bench.part_id)
        shown = self.shown()
        if any(handle.kind == "stop" for handle in shown) and part.style != "conic":
            start, end = gradient_line(part, box)
            ends = [self._spot(handle) for handle in shown if handle.id in ("start", "end")]
            self._line(painter, *(ends or [self.to_screen(*start), self.to_screen(*end)]))
        for handle in shown:
            if handle.kind == "light":
                centre = box.at(*part.pivot) if handle.id == "rotate" else (
                    box.at(*part.centre) if handle.id == "direction" else box.middle)
                self._line(painter, self.to_screen(*centre), self.to_screen(handle.x, handle.y))
        painter.setPen(QPen(QColor(theme().accent), 1))
        for axis, value in self._guides:
            at = self.to_screen(value, value)
            if axis == "x":
                painter.drawLine(QPointF(at.x(), 0), QPointF(at.x(), self.height()))
            else:
                painter.drawLine(QPointF(0, at.y()), QPointF(self.width(), at.y()))
        for handle in shown:
            self._paint_handle(painter, handle)

    def _line(self, painter: QPainter, start: QPointF, end: QPointF) -> None:
        painter.setPen(QPen(QColor(255, 255, 255, 200), 3))
        painter.drawLine(start, end)
        painter.setPen(QPen(QColor(theme().ink), 1))
        painter.drawLine(start, end)

    def _paint_handle(self, painter: QPainter, handle: Handle) -> None:
        at = self._spot(handle)
        selected = handle.id == self.selected
        if selected and self._pulled_off:
            return
        ring = QColor(theme().accent if selected else theme().ink)
        painter.setPen(QPen(QColor("#FFFFFF"), 2))
        colour = qcolour(handle.colour[:7]) if handle.colour else QColor("#FFFFFF")
        # Open but for the one in hand: what lies beneath, such as letters, stays readable.
        in_hand = handle.id in (self._hovered, self.selected)
        painter.setBrush(colour if in_hand else Qt.BrushStyle.NoBrush)
        if handle.kind in ("corner", "edge"):
            box = QRectF(at.x() - 5, at.y() - 5, 10, 10)
            painter.drawRect(box)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(ring, 2 if selected else 1.25))
            painter.drawRect(box.adjusted(-1, -1, 1, 1))
        else:
            size = 7.0 if handle.kind == "stop" else 5.5
            painter.drawEllipse(at, size, size)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(ring, 2 if selected else 1.25))
            painter.drawEllipse(at, size + 1.5, size + 1.5)
            if handle.kind == "stop" and not in_hand:
                painter.setBrush(colour)
                painter.drawEllipse(at, 2.5, 2.5)
            if handle.kind == "centre":
                painter.drawLine(at - QPointF(4, 0), at + QPointF(4, 0))
                painter.drawLine(at - QPointF(0, 4), at + QPointF(0, 4))
        if in_hand:
            self._caption(painter, handle, at)

    def _caption(self, painter: QPainter, handle: Handle, at: QPointF) -> None:
        painter.setFont(ui_font(12))
        caption = handle.caption
        if handle.kind in ("corner", "spot", "centre", "end", "edge"):
            caption += f"  {handle.x:.4g}, {handle.y:.4g}"
        width = painter.fontMetrics().horizontalAdvance(caption) + 12
        box = QRectF(at.x() + 14, at.y() - 11, width, 22)
        if box.right() > self.width() - 4:
            box.moveRight(at.x() - 14)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme().ink))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(QColor(theme().panel))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, caption)

    # Pointer

    def _handle_at(self, at: QPointF) -> str:
        near = [
            (away, handle.id) for handle in reversed(self.shown())
            if (away := (self._spot(handle) - at).manhattanLength()) <= GRAB * 1.5
        ]
        return min(near)[1] if near else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panning = event.position()
            return
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self.selected = self._handle_at(event.position())
        if not self.selected and not self._add_stop(event.position()):
            self._panning = event.position()
        self._dragging = bool(self.selected)
        self._grip = QPointF(0, 0)
        for handle in self.shown():
            if handle.id == self.selected:
                # Held where it was taken, so that it does not jump under the pointer.
                self._grip = self.to_screen(handle.x, handle.y) - event.position()
        self.update()

    def _add_stop(self, at: QPointF) -> bool:
        """A press on the gradient's line sets a new stop there."""
        control = self.bench.control
        if control is None or self.bench.part_id == OUTLINE:
            return False
        part = settled(self.bench.drawn, control).part_in(
            self.bench.part_id, parse_flags(self.bench.state))
        if getattr(part, "style", "solid") == "solid" or part.kind == "label":
            return False
        box = paint_box(
            settled(self.bench.drawn, control), self.bench.state, self.bench.part_id)
        place, away = position_on_line(part, box, *self.to_control(at))
        if away * self.scale > GRAB:
            return False
        before = [stop for stop in part.stops if stop.position <= place] or [part.stops[0]]
        new = Stop(position=place, colour=before[-1].colour)
        stops = sorted([*part.stops, new], key=lambda stop: stop.position)
        self._set("stops", tuple(stops), True)
        self.selected = f"{STOP}{len(stops) - 1 - stops[::-1].index(new)}"
        return True

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._panning is not None:
            self.pan += event.position() - self._panning
            self._panning = event.position()
            self.update()
            return
        if not self._dragging:
            hovered = self._handle_at(event.position())
            if hovered != self._hovered:
                self._hovered = hovered
                self.setCursor(
                    Qt.CursorShape.PointingHandCursor if hovered else Qt.CursorShape.ArrowCursor)
                self.update()
            return
        x, y = self.to_control(event.position() + self._grip)
        box = self._snap_box()
        free = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        self._guides = []
        if not free and not self.selected.startswith(STOP) and self.selected not in (
                "light", "rotate", "direction"):
            (x, y), self._guides = snapped(x, y, box, 6 / self.scale)
        if self.selected.startswith(STOP) and self._is_off(event.position()):
            return
        self._drag_to(x, y, event.modifiers())

    def _is_off(self, at: QPointF) -> bool:
        """A stop pulled away from the line is taken off when released, as on the bar."""
        control = self.bench.control
        assert control is not None
        part = settled(self.bench.drawn, control).part_in(
            self.bench.part_id, parse_flags(self.bench.state))
        box = paint_box(
            settled(self.bench.drawn, control), self.bench.state, self.bench.part_id)
        _, away = position_on_line(part, box, *self.to_control(at))
        self._pulled_off = away * self.scale > PULL_OFF and len(part.stops) > 2
        self.setCursor(Qt.CursorShape.ForbiddenCursor if self._pulled_off
                       else Qt.CursorShape.PointingHandCursor)
        self.update()
        return self._pulled_off

    def _snap_box(self) -> Box:
        control = self.bench.control
        assert control is not None
        return paint_box(settled(self.bench.drawn, control), self.bench.state, OUTLINE)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        control, bench = self.bench.control, self.bench
        drawn = control and self.look(bench.drawn, control, parse_flags(bench.state))
        label = label_at(drawn.look, *self.to_control(event.position())) if drawn else ""
        if label and not self._handle_at(event.position()):
            bench.text_wanted.emit(label)

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        if self._pulled_off:
            self._pulled_off = False
            self.remove_stop()
        self._dragging, self._panning, self._guides = False, None, []
        self.bench.end_drag()
        self.unsetCursor()
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom_by(1 if event.angleDelta().y() > 0 else -1)

    def zoom_by(self, steps: int) -> None:
        now = min(range(len(ZOOMS)), key=lambda at: abs(ZOOMS[at] - self.scale))
        self.zoom_to(ZOOMS[max(0, min(len(ZOOMS) - 1, now + steps))])

    def zoom_to(self, zoom: float) -> None:
        before = self.scale
        self.zoom = zoom
        self.pan = self.pan * (self.scale / before) if zoom else QPointF(0, 0)
        self.zoomed.emit()
        self.update()

    # Changing

    def _drag_to(self, x: float, y: float, modifiers: Qt.KeyboardModifier) -> None:
        control = self.bench.control
        assert control is not None
        if self.selected.startswith("zone-"):
            self._set_zone(int(self.selected[-1]), x, y)
            return
        if self.selected == "rotate":
            self._turning = self.bench.part_id
        change = dragged(
            self.bench.kit, control, self.bench.state, self.bench.part_id, self.selected, x, y,
            alone=bool(modifiers & Qt.KeyboardModifier.AltModifier),
            coarse=bool(modifiers & Qt.KeyboardModifier.ShiftModifier),
        )
        self._set(change.name, change.value, True)

    def _set(self, name: str, value: object, drag: bool) -> None:
        control = self.bench.control
        assert control is not None
        step = step_name(control, self.bench.part_id, name)
        self.bench.set_value(self.bench.part_id, name, value, step, drag)

    def _set_zone(self, side: int, x: float, y: float) -> None:
        control = self.bench.control
        assert control is not None
        zones = control_insets(self.bench.kit, control)
        insets = [zones.left, zones.top, zones.right, zones.bottom]
        width, height = self.bench.shown_size
        wanted = (x, y, width - x, height - y)[side]
        opposite = insets[(side + 2) % 4]
        insets[side] = max(0.0, min(round(wanted), (width, height)[side % 2] - opposite - 1))
        control_id = control.id
        self.bench.edit(
            "stretch zones",
            lambda kit: edits.set_field(kit, control_id, "slices", tuple(insets)),
            (control_id, "slices"))

    def remove_stop(self) -> None:
        control = self.bench.control
        if control is None or not self.selected.startswith(STOP):
            return
        part = settled(self.bench.drawn, control).part_in(
            self.bench.part_id, parse_flags(self.bench.state))
        at = int(self.selected.removeprefix(STOP))
        if len(part.stops) > 2:
            self._set("stops", tuple(s for n, s in enumerate(part.stops) if n != at), False)
            self.selected = ""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, shown = event.key(), self.shown()
        ids = [handle.id for handle in shown]
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1),
                 Qt.Key.Key_Down: (0, 1)}
        if key in steps and self.selected in ids:
            handle = shown[ids.index(self.selected)]
            far = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            dx, dy = steps[Qt.Key(key)]
            self._drag_to(handle.x + dx * far, handle.y + dy * far,
                          Qt.KeyboardModifier.NoModifier)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.remove_stop()
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom_by(1)
        elif key == Qt.Key.Key_Minus:
            self.zoom_by(-1)
        elif key == Qt.Key.Key_0:
            self.zoom_to(0.0)
        elif key == Qt.Key.Key_Escape:
            self.bench.view(loupe="")
        else:
            super().keyPressEvent(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab goes through the handles first, then on."""
        ids = [handle.id for handle in self.shown()]
        at = ids.index(self.selected) if self.selected in ids else (-1 if forward else len(ids))
        at += 1 if forward else -1
        if 0 <= at < len(ids):
            self.selected = ids[at]
            self.update()
            return True
        self.selected = ""
        return super().focusNextPrevChild(forward)
