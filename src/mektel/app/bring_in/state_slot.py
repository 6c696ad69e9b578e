"""A state of the control that pictures come to: it takes a picture, shows it, nudges it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QMenu, QWidget

from mektel.app.bring_in.picture_set import Insets, PictureSet
from mektel.app.looks import Drawn
from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import GAP_2, paint_focus, paint_selected, paint_warning, theme, ui_font
from mektel.app.widgets.backdrop import paint_backdrop
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import tip
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.look import parse_flags

NARROWEST, HEIGHT, CAPTION, ROOM = 176, 172, 42.0, 12.0
# Screen px from a guide in which it is taken hold of.
NEAR = 4.0
SIDES = ("left", "top", "right", "bottom")


class StateSlot(ShowsPictures, QWidget):
    """Guides of the stretch zones are dragged; arrow keys nudge the picture, Delete takes it off.

    While ``blink_rest`` is set it shows rest, so that a picture that jumps is seen.
    """

    draws_at_once = False
    chosen = Signal(str)

    def __init__(self, state: str, pictures: PictureSet, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.state, self.pictures, self.bench = state, pictures, bench
        self.backdrop, self.selected, self.wanted, self.blink_rest = "", False, False, False
        self._dragged: tuple[int, Insets] | None = None
        self._insets: Insets | None = None
        self.setFixedSize(NARROWEST, HEIGHT)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.watch(bench.pictures)
        self.watch_looks(bench.looks)
        self.setAccessibleName(state.replace("+", " and "))
        tip(self, "Drop a picture here. Arrow keys nudge it, with Shift by a quarter pixel; "
                        "Delete takes it off; drag a guide to move a stretch zone.")
        pictures.changed.connect(self.repaint_soon)

    @property
    def caption(self) -> str:
        at = self.pictures.placed.get(self.state)
        if at is None:
            known = self.pictures.result is not None and (
                self.state in self.pictures.result.arrival.control.states)
            return "derived from rest" if known else "drop a picture"
        nudge = self.pictures.nudges.get(self.state)
        moved = f", nudged {nudge[0]:g}, {nudge[1]:g}" if nudge and any(nudge) else ""
        return f"picture {at + 1}{moved}"

    @property
    def doubtful(self) -> list[str]:
        """What was noticed about its picture."""
        result = self.pictures.result
        if result is None:
            return []
        at = self.pictures.placed.get(self.state)
        names = {self.state}
        if at is not None:
            names.add(self.pictures.files[self.pictures.regions[at].file].path.name)
        return [str(finding) for finding in result.findings if finding.place.element in names]

    # Painting

    def _ground(self) -> QRectF:
        return QRectF(1.5, 1.5, self.width() - 3.0, self.height() - CAPTION - 3.0)

    def _scale(self) -> tuple[float, QPointF]:
        """Screen px for a px of the control, and where its box begins."""
        result = self.pictures.result
        assert result is not None
        width, height = result.arrival.control.size
        zones, density = result.zones, result.canvas.density
        canvas_w, canvas_h = (side / density for side in result.canvas.size)
        ground = self._ground()
        share = min(1.0, (ground.width() - 2 * ROOM) / max(width, canvas_w),
                    (ground.height() - 2 * ROOM) / max(height, canvas_h))
        left, top = zones.face[0] / density, zones.face[1] / density
        return share, QPointF(
            round(ground.center().x() - canvas_w * share / 2 + left * share),
            round(ground.center().y() - canvas_h * share / 2 + top * share))

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        ground = self._ground()
        painter.save()
        painter.setClipRect(ground)
        paint_backdrop(painter, ground, self.backdrop, 5)
        result = self.pictures.result
        if result is not None:
            state = "rest" if self.blink_rest else self.state
            drawn = self.look(result.kit, result.kit.controls[0], parse_flags(state))
            if drawn is not None:
                self._paint_look(painter, drawn, ground)
            if self.state in self.pictures.placed:
                self._paint_guides(painter, ground)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        strong = self.wanted or self.underMouse()
        pen = QPen(QColor(colours.accent if self.wanted else colours.ink if strong
                          else colours.hairline), 2 if self.wanted else 1)
        if self.state not in self.pictures.placed:
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawRoundedRect(ground, 5, 5)
        text = QRectF(GAP_2, ground.bottom() + 3, self.width() - 2 * GAP_2, 18)
        painter.setFont(ui_font(13, 600))
        painter.setPen(QColor(colours.ink))
        title = self.state.replace("+", " + ")
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, title[0].upper() + title[1:])
        painter.setFont(ui_font(12))
        painter.setPen(QColor(colours.dim))
        painter.drawText(text.translated(0, 17), Qt.AlignmentFlag.AlignVCenter, self.caption)
        if self.doubtful:
            paint_warning(painter, QRectF(self.width() - 26, ground.bottom() + 10, 16, 16))
        if self.selected:
            paint_selected(painter, ground.adjusted(3, 3, -3, -3))
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_look(self, painter: QPainter, drawn: Drawn, ground: QRectF) -> None:
        look, margins = drawn.look, drawn.margins
        ratio = self.devicePixelRatioF()
        share, corner = self._scale()
        x = round(corner.x() - margins.left * share)
        y = round(corner.y() - margins.top * share)
        behind = behind_for(look, self.backdrop, ground, QPointF(x, y), ratio)
        image = self.picture(Wanted(look, share * ratio, margins, behind=behind))
        if image is not None:
            painter.drawImage(
                QRectF(x, y, image.width() / ratio, image.height() / ratio), image)

    def guides(self) -> list[float]:
        """Where the guides stand on the widget: left, top, right and bottom of what stretches."""
        result = self.pictures.result
        if result is None:
            return []
        share, corner = self._scale()
        density = result.canvas.density
        width, height = result.canvas.size
        left, top, right, bottom = self._insets or self.pictures.insets or result.zones.insets
        x0 = corner.x() - result.zones.face[0] / density * share
        y0 = corner.y() - result.zones.face[1] / density * share
        return [x0 + left / density * share, y0 + top / density * share,
                x0 + (width - right) / density * share, y0 + (height - bottom) / density * share]

    def _paint_guides(self, painter: QPainter, ground: QRectF) -> None:
        colours = theme()
        result = self.pictures.result
        by_hand = self._insets is not None or self.pictures.insets is not None
        for at, place in enumerate(self.guides()):
            zone = result and (result.zones.columns, result.zones.rows)[at % 2]
            if zone is None and not by_hand:
                continue
            held = self._dragged is not None and self._dragged[0] == at
            painter.setPen(QPen(QColor(colours.panel), 1.6))
            line = ((QPointF(place, ground.top()), QPointF(place, ground.bottom())) if at % 2 == 0
                    else (QPointF(ground.left(), place), QPointF(ground.right(), place)))
            painter.drawLine(*line)
            pen = QPen(QColor(colours.second if not held else colours.ink), 1.2)
            pen.setDashPattern([3, 2])
            painter.setPen(pen)
            painter.drawLine(*line)

    # The hand

    def _guide_at(self, spot: QPointF) -> int:
        if self.state not in self.pictures.placed or not self._ground().contains(spot):
            return -1
        offs = [abs((spot.x() if at % 2 == 0 else spot.y()) - place)
                for at, place in enumerate(self.guides())]
        best = min(range(len(offs)), key=lambda at: offs[at], default=-1)
        return best if best >= 0 and offs[best] <= NEAR else -1

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self._guide_at(event.position())
        result = self.pictures.result
        if at >= 0 and result is not None and event.button() == Qt.MouseButton.LeftButton:
            self._dragged = (at, self.pictures.insets or result.zones.insets)
        self.chosen.emit(self.state)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        result = self.pictures.result
        if self._dragged is None or result is None:
            at = self._guide_at(event.position())
            self.setCursor(Qt.CursorShape.ArrowCursor if at < 0 else Qt.CursorShape.SplitHCursor
                           if at % 2 == 0 else Qt.CursorShape.SplitVCursor)
            return
        at, insets = self._dragged
        share, corner = self._scale()
        density, face = result.canvas.density, result.zones.face
        if at % 2 == 0:
            place = (event.position().x() - corner.x()) / share * density + face[0]
        else:
            place = (event.position().y() - corner.y()) / share * density + face[1]
        whole = result.canvas.size[at % 2]
        inset = place if at < 2 else whole - place
        most = whole - insets[(at + 2) % 4] - 1
        values = list(insets)
        values[at] = max(0, min(most, round(inset)))
        self._insets = (values[0], values[1], values[2], values[3])
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        insets, self._insets, self._dragged = self._insets, None, None
        if insets is not None:
            self.pictures.set_insets(insets)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu().popup(event.globalPos())

    def menu(self) -> QMenu:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for at in range(len(self.pictures.regions)):
            add_action(menu, f"Picture {at + 1}", self.pictures.place, self.state, at)
        menu.addSeparator()
        remove = add_action(menu, "Remove the picture", self.pictures.remove, self.state)
        remove.setEnabled(self.state in self.pictures.placed)
        return menu

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1),
                 Qt.Key.Key_Down: (0, 1)}
        if event.key() in steps and self.state in self.pictures.placed:
            by = 0.25 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            dx, dy = steps[Qt.Key(event.key())]
            self.pictures.nudge(self.state, dx * by, dy * by)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.pictures.remove(self.state)
        elif event.key() in (Qt.Key.Key_Menu, Qt.Key.Key_Space):
            self.menu().popup(self.mapToGlobal(self.rect().center()))
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, _event: object) -> None:
        self.chosen.emit(self.state)
        self.update()

    def focusOutEvent(self, _event: object) -> None:
        self.update()
