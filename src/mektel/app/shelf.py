"""The shelf: every control as it really looks; drop a drawing here for another."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QGuiApplication,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QResizeEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QGridLayout,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.notices import Notice
from mektel.app.pictures import Wanted, behind_for
from mektel.app.taking_out import TakenOut, copy_css, copy_picture, drag_out, take_out
from mektel.app.theme import (
    GAP_1,
    GAP_2,
    GAP_3,
    paint_focus,
    paint_selected,
    paint_warning,
    theme,
    ui_font,
)
from mektel.app.widgets.backdrop import DECK, SAIL, caption_colour, paint_backdrop
from mektel.app.widgets.ground import Ground
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.painted_in_turns import PaintedInTurns
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.tab_order import follow
from mektel.app.workbench import Workbench
from mektel.core.finding import Finding
from mektel.core.kit import Control, Kit, deriving
from mektel.core.kit import edit as edits
from mektel.core.look import Look, Margins, embeds_looks, hosts_of, resolve, shared_margins
from mektel.core.proof import findings_of
from mektel.samples import starter_files

WIDTH, ITEM = 152, 84
STARTER_TITLES = {
    "frame": "Frame: outline", "keycap": "Keycap: thick key", "lacquer": "Lacquer: glossy",
    "lens": "Lens: bends what lies behind", "pane": "Pane: glass that wakes on hover",
    "pebble": "Pebble: two soft shadows", "pennant": "Pennant: odd shape",
    "pill": "Pill: gradient capsule", "puck": "Puck: round, with an icon", "slab": "Slab: flat",
    "rocker": "Rocker: a switch", "buoy": "Buoy: lively, for a game",
}


def _prepared(kit: Kit, control: Control) -> tuple[Look, Margins, list[Finding]]:
    """What a thumbnail shows of a control, and what is wrong with it."""
    return resolve(kit, control), shared_margins(kit, control), findings_of(kit, control)


class ShelfItem(PaintedInTurns, QWidget):
    draws_at_once = False

    def __init__(self, control_id: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.control_id, self.bench = control_id, bench
        self.watch(bench.pictures)
        # What the thumbnail was last worked out from: control, palette, controls it may embed.
        self._source: tuple[object, object, object] | None = None
        # What it shows, worked out beside the interface thread: look, margins, what is wrong.
        self._shown: tuple[Look, Margins, list[Finding]] | None = None
        self._pressed_at: QPointF | None = None
        # A thumbnail follows once a drag pauses.
        self._late = QTimer(self, singleShot=True, interval=60)
        self._late.timeout.connect(self._prepare)
        self.setFixedHeight(ITEM)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def refresh(self) -> None:
        """Works the thumbnail out anew if an edit has touched what it shows."""
        source = self._current_source()
        # By identity: what an edit left alone is the same object as before.
        if source is not None and (self._source is None or any(
                old is not new for old, new in zip(self._source, source, strict=True))):
            self._source = source
            self._late.start()

    def _current_source(self) -> tuple[object, object, object] | None:
        kit, control = self.bench.kit, self.control
        if control is None:
            return None
        return control, kit.palette, kit.controls if embeds_looks(control) else None

    def _prepare(self) -> None:
        kit, control = self.bench.drawn, self.control
        if control is not None:
            # An edit may have come since the refresh: what is shown is from this kit.
            self._source = self._current_source()
            self.setAccessibleName(control.name)
            self.bench.background.ask(
                f"shelf {self.control_id}", lambda: _prepared(kit, control), self._show)

    def _show(self, prepared: tuple[Look, Margins, list[Finding]]) -> None:
        self._shown = prepared
        tool_tip = "\n".join(map(str, prepared[2]))
        tip(self, tool_tip)
        self.setAccessibleDescription(tool_tip)
        self.repaint_soon()

    @property
    def control(self) -> Control | None:
        return next((c for c in self.bench.kit.controls if c.id == self.control_id), None)

    def paint(self, painter: QPainter) -> None:
        control = self.control
        if control is None:
            return
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform
        )
        area = QRectF(self.rect()).adjusted(6, 6, -6, -6)
        # Thumbnails are small: a backdrop with much going on would drown them.
        ground = SAIL if self.bench.backdrop == DECK else self.bench.backdrop
        paint_backdrop(painter, area, ground)
        wrong: list[Finding] = []
        if self._shown is not None:
            look, margins, wrong = self._shown
            self._paint_look(painter, area, ground, look, margins)
        is_selected = (self.bench.control_id == self.control_id
                or self.control_id in self.bench.selection.also_selected)
        painter.setFont(ui_font(11, 600 if is_selected else 400))
        painter.setPen(caption_colour(ground, is_selected))
        caption = QRectF(area.x() + 8, area.bottom() - 19, area.width() - 16, 18)
        name = painter.fontMetrics().elidedText(
            control.name, Qt.TextElideMode.ElideRight, round(caption.width())
        )
        painter.drawText(caption, Qt.AlignmentFlag.AlignVCenter, name)
        if wrong:
            paint_warning(painter, QRectF(area.right() - 22, area.y() + 6, 16, 16))
        if is_selected:
            paint_selected(painter, area.adjusted(-4.5, -4.5, 4.5, 4.5))
        if self.hasFocus():
            paint_focus(painter, area.adjusted(1, 1, -1, -1), 4)

    def _paint_look(
        self, painter: QPainter, area: QRectF, ground: str, look: Look, margins: Margins
    ) -> None:
        room = area.adjusted(8, 6, -8, -20)
        # Room for what shows below the box, such as a thick key's foot; far shadows may be cut.
        below = min(margins.bottom, 10)
        share = min(1.0, room.width() / look.width, room.height() / (look.height + below))
        ratio = self.devicePixelRatioF()
        x = room.center().x() - (margins.left + look.width / 2) * share
        y = room.center().y() - (margins.top + (look.height + below) / 2) * share
        behind = behind_for(look, ground, area, QPointF(x, y), ratio)
        image = self.picture(Wanted(look, share * ratio, margins, behind=behind))
        if image is not None:
            painter.save()
            painter.setClipRect(area)
            painter.drawImage(
                QRectF(x, y, image.width() / ratio, image.height() / ratio), image
            )
            painter.restore()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            if event.modifiers() & (
                    Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier):
                self.bench.select_also(self.control_id)
            else:
                self.bench.select(self.control_id)
                self._pressed_at = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A drag takes the control out: a PNG file, a picture, or CSS, as who takes it prefers."""
        start, control = self._pressed_at, self.control
        if start is None or control is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        if (event.position() - start).manhattanLength() >= QApplication.startDragDistance():
            self._pressed_at = None
            take_out(self.bench, control, self._drag_out)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._pressed_at = None
        super().mouseReleaseEvent(event)

    def _drag_out(self, made: TakenOut) -> None:
        # It took a moment to make: the hand may have let go meanwhile.
        if QGuiApplication.mouseButtons() & Qt.MouseButton.LeftButton:
            drag_out(made, self).exec(Qt.DropAction.CopyAction)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.bench.select(self.control_id)
        elif event.key() == Qt.Key.Key_Delete:
            self._remove()
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        control = self.control
        if control is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for finding in self._shown[2] if self._shown else ():
            if finding.mend is not None and finding.mend.edit is not None:
                add_action(menu, f"Mend: {finding.message}"[:80], self.bench.edit,
                           f"mend {control.name}", finding.mend.edit)
        if not menu.isEmpty():
            menu.addSeparator()
        add_action(menu, "Duplicate", self._duplicate, control.name)
        add_action(menu, "Derive another from it", self._derive, control.name)
        if control.base is not None:
            add_action(menu, "Detach from its base", self._part_from_base, control.name)
        menu.addSeparator()
        add_action(menu, "Copy as CSS", copy_css, self.bench, control)
        add_action(menu, "Copy picture", copy_picture, self.bench, control)
        menu.addSeparator()
        also = self.control_id in self.bench.selection.also_selected
        if self.control_id != self.bench.control_id:
            add_action(menu, "Deselect" if also else "Select as well\tCtrl+click",
                       self.bench.select_also, self.control_id)
        add_action(menu, "Remove", self._remove)
        menu.popup(event.globalPos())

    def _duplicate(self, name: str) -> None:
        self.bench.edit(f"duplicate {name}", lambda kit: edits.copy_control(kit, self.control_id))

    def _derive(self, name: str) -> None:
        def make(kit: Kit) -> Kit:
            taken = [control.id for control in kit.controls]
            return deriving.derive(kit, self.control_id, f"{name}, other"[:80],
                                   edits.identifier(f"{name} other", taken, "control"))

        if self.bench.edit(f"derive from {name}", make):
            self.bench.select(self.bench.kit.controls[-1].id)

    def _part_from_base(self, name: str) -> None:
        self.bench.edit(f"detach {name} from its base",
                        lambda kit: deriving.set_base(kit, self.control_id, None))

    def _remove(self) -> None:
        control = self.control
        if control is None:
            return
        kit = self.bench.kit
        left = [other.name for other in kit.controls if other.base == control.id]
        left += [host.name for host in hosts_of(kit, control.id) if host.name not in left]
        if self.bench.edit(f"remove {control.name}",
                           lambda kit: edits.remove_control(kit, self.control_id)) and left:
            self.bench.noticed.emit(Notice(
                f"{control.name} was in use: controls that now lack it are marked on the shelf "
                f"({', '.join(left[:4])}). Undo brings it back.", bad=True))


class NewControl(QPushButton):
    """Opens the starters, or a drawing; also the place that says what may be dropped."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("newControl")
        self.setAccessibleName("New control")
        tip(self, "Start from a design of ours or from a drawing")
        self._wanted = False

    def show_wanted(self, wanted: bool) -> None:
        self._wanted = wanted
        self.update()

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        box = QRectF(self.rect()).adjusted(6.5, 0.5, -6.5, -0.5)
        strong = self._wanted or self.underMouse() or self.hasFocus()
        pen = QPen(QColor(colours.accent if self._wanted else colours.dim), 2 if strong else 1)
        pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.setBrush(QColor(colours.well) if self._wanted else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(QColor(colours.ink if strong else colours.dim))
        painter.setFont(ui_font(12))
        caption = "Drop it here" if self._wanted else "New control\nor drop a drawing"
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, caption)


class _List(QScrollArea):
    resized = Signal()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.resized.emit()


class Shelf(QWidget):
    import_wanted = Signal()

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("shelf")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(WIDTH)
        self.bench = bench
        self.items: dict[str, ShelfItem] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_1 + 2, GAP_3, GAP_1 + 2, GAP_3)
        column.setSpacing(GAP_2)
        heading = PlainLabel("Shelf", self)
        heading.setProperty("role", "heading")
        heading.setContentsMargins(6, 0, 0, 0)
        column.addWidget(heading)
        scroll = _List(self)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = Ground("ground", scroll)
        self._list = QGridLayout(inside)
        self._columns, self._row = 1, ITEM
        self._list.setContentsMargins(0, 0, 0, 0)
        self._list.setSpacing(0)
        # Below the list, so that it is in sight however long that is.
        self.new_button = NewControl(self)
        self.new_button.setFixedHeight(64)
        menu = QMenu(self.new_button)
        for name in starter_files():
            title = STARTER_TITLES.get(name, name.capitalize())
            add_action(menu, title, bench.add_starter, name)
        menu.addSeparator()
        add_action(menu, "Empty control", bench.add_empty)
        add_action(menu, "From a drawing, CSS or pictures…", self.import_wanted.emit)
        self.new_button.setMenu(menu)
        scroll.setWidget(inside)
        self._scroll, self._inside = scroll, inside
        scroll.resized.connect(self._fit_rows)
        # A new control has its place only once the list is laid out, and is longer.
        scroll.verticalScrollBar().rangeChanged.connect(lambda *_: self._bring_into_sight())
        column.addWidget(scroll, 1)
        column.addWidget(self.new_button)
        bench.kit_changed.connect(lambda: bench.turns.refresh(self, self.refresh))
        bench.selected_changed.connect(self._select)
        bench.view_changed.connect(self._repaint)

    def refresh(self) -> None:
        wanted = [control.id for control in self.bench.kit.controls]
        if list(self.items) != wanted:
            for control_id in self.items.keys() - set(wanted):
                item = self.items.pop(control_id)
                item.hide()
                item.deleteLater()
            self.items = {control_id: self.items.get(control_id)
                          or ShelfItem(control_id, self.bench, self) for control_id in wanted}
            self._arrange()
            self._fit_rows()
            follow(self._inside, self.items.values())
        for item in self.items.values():
            item.refresh()

    def show_columns(self, count: int) -> None:
        """One column, or two where the window has room."""
        if count != self._columns:
            self._columns = count
            self.setFixedWidth(WIDTH + (count - 1) * (WIDTH - 2 * GAP_3))
            self._arrange()
            self._fit_rows()

    def _fit_rows(self) -> None:
        """Where not all fit, rows are a little higher, so that none is cut at the end; a notch of
        the wheel is a row.
        """
        room, rows = self._scroll.viewport().height(), -(-len(self.items) // self._columns)
        fitting = max(1, room // ITEM)
        self._row = max(ITEM, room // fitting) if rows > fitting else ITEM
        self._scroll.verticalScrollBar().setSingleStep(
            max(1, self._row // QApplication.wheelScrollLines()))
        for item in self.items.values():
            item.setFixedHeight(self._row)

    def _arrange(self) -> None:
        for at, item in enumerate(self.items.values()):
            self._list.addWidget(item, at // self._columns, at % self._columns)
        last = -(-len(self.items) // self._columns)
        for row in range(self._list.rowCount()):
            self._list.setRowStretch(row, int(row == last))
        self._list.setRowStretch(last, 1)

    def _repaint(self) -> None:
        for item in self.items.values():
            item.repaint_soon()

    def _select(self) -> None:
        self._bring_into_sight()
        self._repaint()

    def _bring_into_sight(self) -> None:
        current = self.items.get(self.bench.control_id)
        if current is not None:
            self._scroll.ensureWidgetVisible(current, 0, 0)
            bar = self._scroll.verticalScrollBar()
            bar.setValue(round(bar.value() / self._row) * self._row)
