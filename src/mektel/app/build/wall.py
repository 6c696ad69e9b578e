"""The wall: every state at once, live. The selected tile is the one that edits go into."""

from __future__ import annotations

import math

from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.change_rows import add_change_rows
from mektel.app.build.names import count_text
from mektel.app.build.states import state_menu
from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import GAP_1, GAP_2, GAP_3, paint_focus, paint_selected, theme, ui_font
from mektel.app.widgets.backdrop import caption_colour, paint_backdrop, paint_plate
from mektel.app.widgets.ground import Ground
from mektel.app.widgets.painted_in_turns import PaintedInTurns
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.tab_order import follow
from mektel.app.workbench import Workbench
from mektel.core.kit import REST, Control, Kit
from mektel.core.kit import edit as edits
from mektel.core.look import (
    Look,
    Margins,
    label_at,
    natural_size,
    parse_flags,
    resolve,
    shared_margins,
)

BRACKET = 6
CAPTION = 26
# Px of a tile where the window has room for more.
TALLEST = 340.0


class Tile(PaintedInTurns, QWidget):
    """A piece of the wall: backdrop, pictures, caption."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.watch(bench.pictures)
        self.watch_looks(bench.looks)

    def area(self) -> QRectF:
        return QRectF(self.rect()).adjusted(BRACKET, BRACKET, -BRACKET, -BRACKET)

    def caption_colour(self, strong: bool) -> QColor:
        return caption_colour(self.bench.backdrop, strong)

    def paint_ground(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        area = self.area()
        paint_backdrop(painter, area, self.bench.backdrop)
        strip = QRectF(area.x(), area.bottom() - CAPTION, area.width(), CAPTION)
        paint_plate(painter, strip, self.bench.backdrop)

    def wanted(
        self, look: Look, scale: float, margins: Margins, corner: QPointF, ratio: float
    ) -> Wanted:
        """The picture of a look: one layer of it if that is shown alone, and what lies behind."""
        behind = behind_for(look, self.bench.backdrop, self.area(), corner, ratio)
        return Wanted(look, scale, margins, self.bench.selection.solo or None, behind)

    def caption_box(self) -> QRectF:
        area = self.area()
        return QRectF(area.x() + 10, area.bottom() - CAPTION, area.width() - 20, CAPTION)


class StateTile(Tile):
    selected = Signal(str)

    def __init__(self, state: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(bench, parent)
        self.state = state
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"State {state}")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._counted = ("", "")
        self._painted: tuple[object, ...] = ()
        self._drawn: Wanted | None = None
        self._at = (0.0, 0.0)
        self.changes = QPushButton(self)
        self.changes.setObjectName("quiet")
        self.changes.setCursor(Qt.CursorShape.PointingHandCursor)
        self.changes.clicked.connect(self._list_changes)
        self.changes.setVisible(state != REST)
        tip(self,
            "Double-click or press L for a close-up; double-click the text to type another")

    def refresh(self) -> None:
        control = self.bench.control
        if control is None:
            return
        if self.state != REST:
            text = self._change_text(control)
            colour = self.caption_colour(False).name()
            if (text, colour) != self._counted:
                if colour != self._counted[1]:
                    self.changes.setStyleSheet(
                        f"color: {colour}; font-size: 12px; background: none;")
                self._counted = (text, colour)
                self.changes.setText(text)
                tip(self.changes, "List what differs from rest")
                self._place_button()
                self.update()
        if self.isVisible() and self._shown() == self._painted:
            picture = self._picture_of(control)
            if picture is None:
                return  # repainted once it is resolved
            if picture[0] == self._drawn and not self.awaits():
                return  # nothing of it has changed
            if not self.follow(picture[0]):
                return  # repainted once it is there
        self.repaint_soon()

    def _change_text(self, control: Control) -> str:
        """How the state stands to rest: what it follows, or how much of it differs."""
        other = control.links.get(self.state)
        if other is not None:
            return "same as rest" if other == REST else f"follows {other}"
        driven = sum(map(len, control.formulas.get(self.state, {}).values()))
        if not driven and not control.count_changes(self.state) and "+" in self.state:
            return "inherited"
        counted = count_text(control.count_changes(self.state))
        return f"{driven} derived" if driven and not control.count_changes(self.state) else (
            f"{counted}, {driven} derived" if driven else counted)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.selected.emit(self.state)
        state_menu(self.bench, self.state, self).popup(event.globalPos())

    def _shown(self) -> tuple[object, ...]:
        """What is painted besides the picture of the control."""
        bench, control = self.bench, self.bench.control
        return (bench.backdrop, bench.density, bench.state, bench.selection.scheme,
                bench.control_id,
                len(control.layers) if control else 0, theme().name)

    def look_ready(self) -> None:
        self.refresh()

    def _picture_of(self, control: Control) -> tuple[Wanted, float, float] | None:
        """The picture, and where in the tile its top left lies; none until it is resolved."""
        drawn = self.look(self.bench.drawn, control, parse_flags(self.state))
        if drawn is None:
            return None
        look, margins = drawn.look, drawn.margins
        area, density = self.area().adjusted(0, 0, 0, -CAPTION + 8), self.bench.density
        # The box, not the picture with its shadow, is what stands in the middle.
        x = round(area.center().x() - (margins.left + look.width / 2) * density)
        y = round(area.center().y() - (margins.top + look.height / 2) * density)
        ratio = self.devicePixelRatioF()
        wanted = self.wanted(look, density * ratio, margins, QPointF(x, y), ratio)
        return wanted, x, y

    def _place_button(self) -> None:
        self.changes.adjustSize()
        box = self.caption_box()
        self.changes.move(
            round(box.right() - self.changes.width() + 6),
            round(box.center().y() - self.changes.height() / 2),
        )

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.LayoutRequest:
            self._place_button()  # its text has another width
        return super().event(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place_button()
        super().resizeEvent(event)

    def paint(self, painter: QPainter) -> None:
        control = self.bench.control
        self.paint_ground(painter)
        if control is None:
            return
        picture = self._picture_of(control)
        image = self.last_picture() if picture is None else self.picture(picture[0])
        self._painted = self._shown()
        if image is not None:
            # Where the picture before this one still stands in, it keeps its own place.
            if picture is not None and not self.awaits():
                self._drawn, self._at = picture[0], picture[1:]
            x, y = self._at
            ratio = self.devicePixelRatioF()
            width, height = image.width() / ratio, image.height() / ratio
            painter.save()
            painter.setClipRect(self.area())
            painter.drawImage(QRectF(x, y, width, height), image)
            painter.restore()
        painter.setFont(ui_font(12, 600))
        painter.setPen(self.caption_colour(True))
        painter.drawText(self.caption_box(), Qt.AlignmentFlag.AlignVCenter, self.state)
        if self.state == REST:
            painter.setFont(ui_font(12))
            painter.setPen(self.caption_colour(False))
            caption = f"{len(control.layers)} layers"
            painter.drawText(
                self.caption_box(), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                caption,
            )
        if self.bench.state == self.state:
            paint_selected(painter, self.area().adjusted(-4.5, -4.5, 4.5, 4.5))
        if self.hasFocus():
            paint_focus(painter, self.area().adjusted(1.5, 1.5, -1.5, -1.5), 4)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self.selected.emit(self.state)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self.selected.emit(self.state)
            label = self._label_at(event.position())
            if label:
                self.bench.text_wanted.emit(label)
            else:
                self.bench.view(loupe=self.state)

    def _label_at(self, at: QPointF) -> str:
        if self._drawn is None:
            return ""
        spot, density, margins = at - QPointF(*self._at), self.bench.density, self._drawn.margins
        return label_at(self._drawn.look, spot.x() / density - margins.left,
                        spot.y() / density - margins.top)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_L:
            self.selected.emit(self.state)
            self.bench.view(loupe=self.state)
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.selected.emit(self.state)
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: object) -> None:
        self.update()
        super().focusInEvent(event)  # type: ignore[arg-type]

    def _list_changes(self) -> None:
        popover = ChangesPopover(self.state, self.bench, self)
        popover.adjustSize()
        button = self.changes
        corner = button.mapToGlobal(QPoint(button.width(), button.height() + GAP_1))
        if corner.y() + popover.height() > self.screen().availableGeometry().bottom():
            corner -= QPoint(0, popover.height() + button.height() + 2 * GAP_1)
        popover.move(corner - QPoint(popover.width(), 0))
        popover.show()


class ChangesPopover(QFrame):
    """What a state changes, each with its way back to rest."""

    def __init__(self, state: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("popover")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.state, self.bench = state, bench
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_2)
        heading = PlainLabel(f"{state[0].upper()}{state[1:]} differs from rest in", self)
        heading.setProperty("role", "heading")
        column.addWidget(heading)
        grid = QGridLayout()
        grid.setHorizontalSpacing(GAP_3)
        grid.setVerticalSpacing(2)
        column.addLayout(grid)
        control = bench.control
        assert control is not None
        if not control.changes(state):
            nothing = PlainLabel("no changes", self)
            nothing.setProperty("role", "dim")
            grid.addWidget(nothing, 0, 0)
        add_change_rows(grid, self, control, state, self._clear)
        foot = QHBoxLayout()
        every = QPushButton("All back to rest", self)
        every.clicked.connect(lambda: self._clear(None, None))
        every.setVisible(bool(control.changes(state)))
        self.more = QPushButton("Follow, copy, suggest…", self)
        self.more.clicked.connect(self._show_menu)
        foot.addWidget(every)
        foot.addWidget(self.more)
        foot.addStretch(1)
        column.addLayout(foot)

    def _show_menu(self) -> None:
        parent = self.parentWidget()
        assert parent is not None
        menu = state_menu(self.bench, self.state, parent)
        corner = self.more.mapToGlobal(QPoint(0, self.more.height()))
        self.close()
        menu.popup(corner)

    def _clear(self, part_id: str | None, name: str | None) -> None:
        bench, state = self.bench, self.state
        step = f"{state} back to rest"
        bench.edit(
            step, lambda kit: edits.clear_changes(kit, bench.control_id, state, part_id, name)
        )
        self.close()


def at_other_sizes(
    kit: Kit, control: Control, state: str, size: tuple[float, float]
) -> tuple[tuple[Look, Margins], ...]:
    """A state narrow, wide, low and tall: its looks, and the margins of all states."""
    width, height = size
    small = natural_size(control.model_copy(update={"size": (4.0, 4.0)}))
    labelled = any(layer.kind == "label" for layer in control.layers)
    narrow = min(width, small[0]) if labelled and control.text else width / 2
    flags = parse_flags(state)
    return tuple(
        (resolve(kit, control, flags, other), shared_margins(kit, control, other))
        for other in ((narrow, height), (width * 1.5, height), (width, max(4.0, height * 0.6)),
                      (width, height * 1.4)))


class SizesTile(Tile):
    """The selected state at other sizes: as small as its text allows, wide, low, and tall."""

    # What it shows, and what that was worked out for: beside the interface thread.
    _shown: tuple[tuple[Look, Margins], ...] = ()
    _shown_for: tuple[object, ...] = ()

    def _prepare(self, control: Control) -> None:
        kit, state, size = self.bench.drawn, self.bench.state, self.bench.shown_size
        wanted = (id(kit), control.id, state, size)
        if self._shown_for != wanted:
            self._shown_for = wanted
            self.bench.background.ask(
                "sizes", lambda: at_other_sizes(kit, control, state, size), self._show)

    def _show(self, shown: tuple[tuple[Look, Margins], ...]) -> None:
        self._shown = shown
        self.repaint_soon()

    def paint(self, painter: QPainter) -> None:
        control = self.bench.control
        self.paint_ground(painter)
        if control is None:
            return
        self._prepare(control)
        area = self.area().adjusted(8, 6, -8, -CAPTION)
        cell_w, cell_h = area.width() / 2, area.height() / 2
        for slot, (look, margins) in enumerate(self._shown):
            full_w = look.width + margins.left + margins.right
            full_h = look.height + margins.top + margins.bottom
            share = min(1.0, cell_w / full_w, cell_h / full_h)
            cell = QRectF(
                area.x() + slot % 2 * cell_w, area.y() + slot // 2 * cell_h, cell_w, cell_h
            )
            drawn = QRectF(0, 0, full_w * share, full_h * share)
            drawn.moveCenter(cell.center())
            drawn.moveTopLeft(QPointF(round(drawn.x()), round(drawn.y())))
            ratio = self.devicePixelRatioF()
            wanted = self.wanted(look, share * ratio, margins, drawn.topLeft(), ratio)
            image = self.picture(wanted, slot)
            if image is None:
                continue
            painter.drawImage(drawn.topLeft(), image)
        painter.setFont(ui_font(12))
        painter.setPen(self.caption_colour(False))
        painter.drawText(
            self.caption_box(), Qt.AlignmentFlag.AlignVCenter,
            f"{self.bench.state} when narrow, wide, low, tall",
        )


class Wall(QScrollArea):
    """Lays tiles out in as many columns as the pictures' size allows."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.setWidgetResizable(False)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._canvas = Ground("ground", self)
        self.setWidget(self._canvas)
        self.tiles: dict[str, StateTile] = {}
        self.sizes = SizesTile(bench, self._canvas)
        for signal in (bench.kit_changed, bench.selected_changed, bench.view_changed):
            signal.connect(lambda: bench.turns.refresh(self, self.refresh))
        bench.looks.ready.connect(self._arrange)
        # Other sizes are shown once a drag pauses; the states themselves follow it.
        self._late = QTimer(self, singleShot=True, interval=80)
        self._late.timeout.connect(self.sizes.repaint_soon)

    def refresh(self) -> None:
        self._show_states(self.bench.shown_states())
        self._arrange()
        for tile in self.tiles.values():
            tile.refresh()
        self._late.start()

    def _show_states(self, states: tuple[str, ...]) -> None:
        """One tile for each state that is wanted, in this order; tiles there are, stay."""
        if tuple(self.tiles) == states:
            return
        for state, tile in list(self.tiles.items()):
            if state not in states:
                tile.hide()
                tile.deleteLater()
        made = {}
        for state in states:
            made[state] = self.tiles.get(state) or self._new_tile(state)
        self.tiles = made
        follow(self._canvas, made.values())

    def _new_tile(self, state: str) -> StateTile:
        tile = StateTile(state, self.bench, self._canvas)
        tile.selected.connect(lambda state: self.bench.select(state=state))
        tile.show()
        return tile

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        control = self.bench.control
        if control is None:
            return
        drawn = self.bench.looks.get(self.bench.drawn, control)
        if drawn is None:
            return  # arranged once it is resolved
        margins = drawn.margins
        density = self.bench.density
        width, height = self.bench.shown_size
        wide = (width + margins.left + margins.right) * density + 2 * BRACKET + GAP_2
        high = (height + margins.top + margins.bottom) * density + CAPTION + 2 * BRACKET
        space = self.viewport().size()
        columns = max(1, min(3, math.floor(space.width() / wide)))
        count = len(self.tiles) + 1
        rows = math.ceil(count / columns)
        tile_w = space.width() // columns
        tile_h = round(max(high, min(TALLEST, space.height() / rows), 96))
        fitting = space.height() // tile_h
        if 0 < fitting < rows:
            tile_h = space.height() // fitting  # no row is cut at the end
        step = max(1, tile_h // QApplication.wheelScrollLines())
        self.verticalScrollBar().setSingleStep(step)
        for at, tile in enumerate([*self.tiles.values(), self.sizes]):
            tile.setGeometry(QRect(
                at % columns * tile_w, at // columns * tile_h, tile_w, tile_h
            ))
        self._canvas.resize(space.width(), max(space.height(), rows * tile_h))
