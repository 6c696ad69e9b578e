"""The files that pictures come from, with an outline on each picture found on them."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from mektel.app.bring_in.picture_set import PictureSet
from mektel.app.theme import GAP_3, paint_focus, theme, ui_font
from mektel.app.widgets.backdrop import paint_backdrop
from mektel.core.pictures.regions import Box

# Above each file, what it is called and the numbers of its pictures.
CAPTION, EDGE, GRIP = 42, 12, 7
PLATE = 18.0
ZOOMS = (0.25, 0.5, 1.0, 2.0, 4.0, 8.0, 16.0)
SMALLEST = 4
# Screen px within which an edge goes to one that is there already.
SNAP = 6


class SourceCanvas(QWidget):
    """A region is dragged away by its inside, resized by its edges, moved by arrow keys; a new one
    is drawn on empty ground. ``carried`` sends a region and the place on the screen where it was
    let go, ``carrying`` the place where it is.
    """

    carried = Signal(int, QPoint)
    carrying = Signal(int, QPoint)
    selected_changed = Signal()

    def __init__(self, pictures: PictureSet, parent: QWidget) -> None:
        super().__init__(parent)
        self.pictures = pictures
        self.backdrop = ""
        self.selected = -1
        self.zoom, self._zoomed = 1.0, False
        self._images: list[QImage] = []
        self._grip: tuple[str, QPointF, Box] | None = None
        self._drawn: tuple[int, QPointF] | None = None
        self._box: Box | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Pictures found")
        pictures.opened.connect(self._open)
        pictures.changed.connect(self.update)

    def _open(self) -> None:
        for file in self.pictures.files:
            height, width = file.pixels.shape[:2]
            image = QImage(file.pixels.tobytes(), width, height, 4 * width,
                           QImage.Format.Format_RGBA8888_Premultiplied).copy()
            self._images.append(image)
        self._fit()

    def fit_to(self, width: int) -> None:
        """Shows the widest file whole, or each pixel as whole ones; a zoom of the user's stays."""
        if self._images and not self._zoomed:
            room = max(160, width - 2 * EDGE)
            share = room / max(image.width() for image in self._images)
            self.set_zoom(max(zoom for zoom in ZOOMS if zoom <= max(1.0, min(2.0, share)))
                          if share >= 1 else share)

    def _fit(self) -> None:
        wide = max((image.width() for image in self._images), default=100)
        high = sum(round(image.height() * self.zoom) + CAPTION + GAP_3 for image in self._images)
        self.setFixedSize(QSize(round(wide * self.zoom) + 2 * EDGE, high + EDGE))
        self.update()

    def set_zoom(self, zoom: float) -> None:
        self.zoom = zoom
        self._fit()

    # Places

    def file_rect(self, at: int) -> QRectF:
        top = EDGE + CAPTION
        for image in self._images[:at]:
            top += round(image.height() * self.zoom) + CAPTION + GAP_3
        image = self._images[at]
        return QRectF(EDGE, top, image.width() * self.zoom, image.height() * self.zoom)

    def region_rect(self, at: int, box: Box | None = None) -> QRectF:
        region = self.pictures.regions[at]
        left, top, right, bottom = box or region.box
        corner = self.file_rect(region.file).topLeft()
        return QRectF(corner.x() + left * self.zoom, corner.y() + top * self.zoom,
                      (right - left) * self.zoom, (bottom - top) * self.zoom)

    def _region_at(self, spot: QPointF) -> int:
        for at in reversed(range(len(self.pictures.regions))):
            if self.region_rect(at).contains(spot):
                return at
        return -1

    def _grip_at(self, spot: QPointF) -> str:
        """The sides of the selected region that a spot takes hold of, such as ``lt``."""
        if self.selected < 0:
            return ""
        box = self.region_rect(self.selected)
        if not box.adjusted(-GRIP, -GRIP, GRIP, GRIP).contains(spot):
            return ""
        room = min(GRIP, box.width() / 4, box.height() / 4)
        sides = "l" if spot.x() < box.left() + room else (
            "r" if spot.x() > box.right() - room else "")
        return sides + ("t" if spot.y() < box.top() + room else (
            "b" if spot.y() > box.bottom() - room else ""))

    # Painting

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        colours = theme()
        for at, image in enumerate(self._images):
            box = self.file_rect(at)
            painter.setFont(ui_font(12))
            painter.setPen(QColor(colours.dim))
            caption = self.pictures.files[at].path.name
            painter.drawText(QRectF(box.x(), box.y() - CAPTION, max(box.width(), 160.0), 18),
                             Qt.AlignmentFlag.AlignVCenter, f"{caption}, {image.width()} × "
                             f"{image.height()} pixels")
            paint_backdrop(painter, box, self.backdrop, 0)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.zoom < 1)
            painter.drawImage(box, image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        states: dict[int, list[str]] = {}
        for state, region in self.pictures.placed.items():
            states.setdefault(region, []).append(state)
        for at in range(len(self.pictures.regions)):
            self._paint_region(painter, at, ", ".join(states.get(at, [])))
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_region(self, painter: QPainter, at: int, name: str) -> None:
        colours = theme()
        active = at == self.selected
        box = self.region_rect(at, self._box if active and self._grip else None)
        for width, colour in ((3.0, colours.panel), (1.5 if active else 1.0, colours.ink)):
            pen = QPen(QColor(colour), width)
            if not active and width < 3:
                pen.setDashPattern([4, 3])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
        if active:
            painter.setPen(QPen(QColor(colours.panel), 1))
            painter.setBrush(QColor(colours.ink))
            for spot in (box.topLeft(), box.topRight(), box.bottomLeft(), box.bottomRight()):
                painter.drawRect(QRectF(spot.x() - 3.5, spot.y() - 3.5, 7, 7))
        painter.setFont(ui_font(12, 600))
        text = f"{at + 1}  {name}" if name else f"{at + 1}"
        wide = painter.fontMetrics().horizontalAdvance(text) + 10
        plate = QRectF(box.x(), box.y() - PLATE - 1, min(float(wide), max(24.0, box.width())),
                       PLATE)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.ink if name else colours.dim))
        painter.drawRoundedRect(plate, 3, 3)
        painter.setPen(QColor(colours.panel))
        painter.drawText(plate.adjusted(5, 0, -2, 0), Qt.AlignmentFlag.AlignVCenter, text)

    # The hand

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        spot = event.position()
        grip = self._grip_at(spot)
        if grip:
            self._grip = (grip, spot, self.pictures.regions[self.selected].box)
            return
        self.select(self._region_at(spot))
        if self.selected >= 0:
            self._grip = ("carry", spot, self.pictures.regions[self.selected].box)
            return
        for at in range(len(self._images)):
            if self.file_rect(at).contains(spot):
                self._drawn = (at, spot)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        spot = event.position()
        if self._grip is not None and self._grip[0] == "carry":
            if (spot - self._grip[1]).manhattanLength() > 6:
                self.setCursor(Qt.CursorShape.ClosedHandCursor)
                self.carrying.emit(self.selected, event.globalPosition().toPoint())
        elif self._grip is not None:
            self._box = self._resized(*self._grip, spot)
            self.update()
        else:
            self._show_cursor(spot)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        grip, self._grip = self._grip, None
        drawn, self._drawn = self._drawn, None
        box, self._box = self._box, None
        spot = event.position()
        if grip is not None and grip[0] == "carry":
            self.carried.emit(self.selected, event.globalPosition().toPoint())
        elif grip is not None and box is not None:
            self.pictures.set_box(self.selected, box)
        elif drawn is not None:
            at, start = drawn
            new = self._box_between(at, start, spot)
            if min(new[2] - new[0], new[3] - new[1]) >= SMALLEST:
                self.select(self.pictures.add_region(at, new))
        self._show_cursor(spot)
        self.update()

    def _show_cursor(self, spot: QPointF) -> None:
        shapes = {"l": Qt.CursorShape.SizeHorCursor, "r": Qt.CursorShape.SizeHorCursor,
                  "t": Qt.CursorShape.SizeVerCursor, "b": Qt.CursorShape.SizeVerCursor,
                  "lt": Qt.CursorShape.SizeFDiagCursor, "rb": Qt.CursorShape.SizeFDiagCursor,
                  "rt": Qt.CursorShape.SizeBDiagCursor, "lb": Qt.CursorShape.SizeBDiagCursor}
        grip = self._grip_at(spot)
        over = self._region_at(spot) >= 0
        self.setCursor(shapes[grip] if grip else Qt.CursorShape.OpenHandCursor if over
                       else Qt.CursorShape.CrossCursor)

    def _box_between(self, at: int, one: QPointF, two: QPointF) -> Box:
        area = self.file_rect(at)
        image = self._images[at]
        rect = QRectF(one, two).normalized()
        left, right = ((side - area.x()) / self.zoom for side in (rect.left(), rect.right()))
        top, bottom = ((side - area.y()) / self.zoom for side in (rect.top(), rect.bottom()))
        return (max(0, round(left)), max(0, round(top)), min(image.width(), round(right)),
                min(image.height(), round(bottom)))

    def _resized(self, sides: str, start: QPointF, box: Box, spot: QPointF) -> Box:
        left, top, right, bottom = box
        dx, dy = ((part / self.zoom) for part in (spot.x() - start.x(), spot.y() - start.y()))
        if "l" in sides:
            left = min(self._snapped(left + dx, 0), right - SMALLEST)
        if "r" in sides:
            right = max(self._snapped(right + dx, 0), left + SMALLEST)
        if "t" in sides:
            top = min(self._snapped(top + dy, 1), bottom - SMALLEST)
        if "b" in sides:
            bottom = max(self._snapped(bottom + dy, 1), top + SMALLEST)
        return left, top, right, bottom

    def _snapped(self, place: float, axis: int) -> int:
        """The edge of a picture that was found, if one is so near, or a whole pixel."""
        file = self.pictures.regions[self.selected].file
        edges = [side for box in self.pictures.files[file].regions.boxes
                 for side in (box[axis], box[axis + 2])]
        near = min(edges, key=lambda edge: abs(edge - place), default=place)
        return round(near if abs(near - place) * self.zoom <= SNAP else place)

    def select(self, at: int) -> None:
        self.selected = at
        self.selected_changed.emit()
        self.update()

    # Keys

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1),
                 Qt.Key.Key_Down: (0, 1)}
        if event.key() in steps and self.selected >= 0:
            dx, dy = steps[Qt.Key(event.key())]
            left, top, right, bottom = self.pictures.regions[self.selected].box
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                right, bottom = max(right + dx, left + SMALLEST), max(bottom + dy, top + SMALLEST)
            else:
                left, top, right, bottom = left + dx, top + dy, right + dx, bottom + dy
            self.pictures.set_box(self.selected, (left, top, right, bottom))
        elif event.key() in (Qt.Key.Key_N, Qt.Key.Key_P) and self.pictures.regions:
            step = 1 if event.key() == Qt.Key.Key_N else -1
            self.select((self.selected + step) % len(self.pictures.regions))
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self._step_zoom(1 if event.key() == Qt.Key.Key_Plus else -1)
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._step_zoom(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
        else:
            event.ignore()

    def _step_zoom(self, step: int) -> None:
        self._zoomed = True
        at = min(range(len(ZOOMS)), key=lambda index: abs(ZOOMS[index] - self.zoom))
        self.set_zoom(ZOOMS[max(0, min(len(ZOOMS) - 1, at + step))])

    def shown_rect(self, at: int) -> QRect:
        return self.region_rect(at).toRect()
