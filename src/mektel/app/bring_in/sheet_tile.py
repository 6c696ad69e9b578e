"""One control of a style sheet as it will look: at rest, and its states small beneath."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QAbstractButton, QWidget

from mektel.app.bring_in.sheet_entries import SheetEntry
from mektel.app.looks import Drawn
from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import GAP_1, GAP_2, paint_focus, theme, ui_font
from mektel.app.widgets.backdrop import paint_backdrop
from mektel.app.widgets.plain import tip
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.look import parse_flags

HEIGHT, NARROWEST = 176, 184
LARGE, SMALL, CAPTION = 92.0, 30.0, 44.0
SMALL_STATES = ("hover", "pressed", "focus", "disabled")
MARK = 18.0


class SheetTile(ShowsPictures, QAbstractButton):
    """Checked where it is to be brought in."""

    draws_at_once = False

    def __init__(self, entry: SheetEntry, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.backdrop = ""
        self.setCheckable(True)
        self.setFixedSize(NARROWEST, HEIGHT)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.watch(bench.pictures)
        self.watch_looks(bench.looks)
        self.show_entry(entry)

    def show_entry(self, entry: SheetEntry) -> None:
        self.entry = entry
        self.setText(entry.pressable.selector)
        self.setEnabled(not entry.error)
        self.setAccessibleName(entry.pressable.selector)
        about = [f"{entry.pressable.selector}, line {entry.pressable.line}"]
        if entry.pressable.base:
            about.append(f"builds on {entry.pressable.base}")
        if entry.error:
            about.append(entry.error)
        about += [str(finding) for finding in entry.skipped[:8]]
        tip(self, "\n".join(about))
        self.setAccessibleDescription("; ".join(about[1:]))
        self.repaint_soon()

    @property
    def caption(self) -> str:
        if self.entry.error:
            return "cannot be read"
        if not self.entry.read:
            return "being read …"
        count = len(self.entry.skipped)
        return "nothing skipped" if not count else f"{count} skipped"

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        area = QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        ground = QRectF(area.x(), area.y(), area.width(), area.height() - CAPTION)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.raised))
        painter.drawRoundedRect(area, 6, 6)
        painter.save()
        painter.setClipRect(ground.adjusted(1, 1, -1, 0))
        paint_backdrop(painter, ground, self.backdrop)
        self._paint_states(painter, ground)
        painter.restore()
        painter.setPen(QPen(QColor(colours.hairline), 1))
        painter.drawLine(ground.bottomLeft(), ground.bottomRight())
        self._paint_caption(painter, area)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        strong = self.isChecked() or self.underMouse()
        painter.setPen(QPen(QColor(colours.ink if strong else colours.hairline),
                            2 if self.isChecked() else 1))
        painter.drawRoundedRect(area, 6, 6)
        if self.isChecked():
            self._paint_mark(painter, area)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_states(self, painter: QPainter, ground: QRectF) -> None:
        kit = self.entry.kit
        if kit is None:
            return
        control = kit.controls[0]
        large = QRectF(ground.x(), ground.y(), ground.width(), LARGE)
        rest = self.look(kit, control, ())
        if rest is not None:
            self._paint_look(painter, large, rest, ground, 0)
        shown = [state for state in SMALL_STATES if state in control.states]
        width = ground.width() / max(1, len(SMALL_STATES))
        left = ground.x() + (ground.width() - width * len(shown)) / 2
        for at, state in enumerate(shown):
            drawn = self.look(kit, control, parse_flags(state))
            box = QRectF(left + at * width, large.bottom(), width, SMALL)
            if drawn is not None:
                self._paint_look(painter, box, drawn, ground, at + 1)

    def _paint_look(
        self, painter: QPainter, box: QRectF, drawn: Drawn, ground: QRectF, slot: int
    ) -> None:
        look, margins = drawn.look, drawn.margins
        ratio = self.devicePixelRatioF()
        share = min(1.0, (box.width() - GAP_2) / look.width, (box.height() - GAP_1) / look.height)
        x = round(box.center().x() - (margins.left + look.width / 2) * share)
        y = round(box.center().y() - (margins.top + look.height / 2) * share)
        behind = behind_for(look, self.backdrop, ground, QPointF(x, y), ratio)
        image = self.picture(Wanted(look, share * ratio, margins, behind=behind), slot)
        if image is not None:
            painter.drawImage(
                QRectF(x, y, image.width() / ratio, image.height() / ratio), image)

    def _paint_caption(self, painter: QPainter, area: QRectF) -> None:
        colours = theme()
        text = QRectF(area.x() + GAP_2, area.bottom() - CAPTION + 5, area.width() - 2 * GAP_2, 18)
        painter.setFont(ui_font(13, 600))
        painter.setPen(QColor(colours.ink if self.isEnabled() else colours.dim))
        title = painter.fontMetrics().elidedText(
            self.text(), Qt.TextElideMode.ElideMiddle, int(text.width()))
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, title)
        painter.setFont(ui_font(12))
        painter.setPen(QColor(colours.bad if self.entry.error else colours.dim))
        below = text.translated(0, 17)
        painter.drawText(below, Qt.AlignmentFlag.AlignVCenter, self.caption)
        painter.setPen(QColor(colours.dim))
        painter.drawText(below, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                         f"line {self.entry.pressable.line}")

    def _paint_mark(self, painter: QPainter, area: QRectF) -> None:
        """A tick in the corner."""
        colours = theme()
        spot = QRectF(area.right() - MARK - 6, area.y() + 6, MARK, MARK)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.ink))
        painter.drawRoundedRect(spot, 4, 4)
        painter.setPen(QPen(QColor(colours.panel), 2, Qt.PenStyle.SolidLine,
                            Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
        painter.drawPolyline([
            spot.topLeft() + QPointF(4.5, 9.5), spot.topLeft() + QPointF(7.8, 12.8),
            spot.topLeft() + QPointF(13.5, 5.8)])

    def hideEvent(self, _event: object) -> None:
        self.setDown(False)
