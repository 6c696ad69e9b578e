"""The strip: layers as cards in paint order, back at the left; the open card unfolds below."""

from __future__ import annotations

from typing import Any, TypeAlias

from PySide6.QtCore import QMimeData, QPoint, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QDrag,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.card import OpenCard
from mektel.app.build.layer_menu import (
    copy_to_clipboard,
    layer_menu,
    move_layer,
    paste_from_clipboard,
    remove_layer,
    solo_layer,
    toggle_layer,
)
from mektel.app.build.legend import Legend
from mektel.app.build.names import KIND_HELP, KIND_TITLES
from mektel.app.pictures import Wanted
from mektel.app.theme import GAP_1, GAP_2, GAP_5, paint_focus, theme, ui_font
from mektel.app.widgets.backdrop import CHECKER, paint_backdrop
from mektel.app.widgets.colour_swatch import qcolour
from mektel.app.widgets.ground import Ground
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.outline import outline_path
from mektel.app.widgets.painted_in_turns import PaintedInTurns
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.tab_order import follow
from mektel.app.workbench import Workbench
from mektel.core.kit import OUTLINE, Control
from mektel.core.kit import edit as edits
from mektel.core.look import (
    embeddable,
    embeds_looks,
    parse_flags,
    settled,
)
from mektel.core.shape import AnyOutline, Contour, polygons

# An outline and its edge in closed polygons.
Edge: TypeAlias = "tuple[AnyOutline, tuple[Contour, ...]]"

CARD_W, CARD_H, TAB = 96, 80, 12
LAYER_MIME = "application/x-mektel-layer"  # a card on its way along the row


class StripCard(PaintedInTurns, QWidget):
    """One layer, alone on its card; or the outline, which comes first."""

    opened = Signal(str)

    def __init__(self, part_id: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.part_id, self.bench = part_id, bench
        self.watch(bench.pictures)
        self.watch_looks(bench.looks)
        self._painted: tuple[object, ...] = ()
        self._edge: Edge | None = None
        self._pressed_at: QPoint | None = None
        self.setFixedSize(CARD_W, CARD_H + TAB)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(self._name())
        if part_id != OUTLINE:
            tip(self, "Drag to reorder; the dot shows and hides it. Right-click for more.")

    def _name(self) -> str:
        control = self.bench.control
        if self.part_id == OUTLINE or control is None:
            return "Outline"
        return control.layer(self.part_id).name

    def stand_for(self, part_id: str) -> None:
        """Shows another part: a card that is there costs less than a new one."""
        if part_id != self.part_id:
            self.part_id, self._painted = part_id, ()
            self._last.clear()

    def show_part(self) -> None:
        """Repaints if what the card shows is another than before; an edit shares the rest."""
        bench, control = self.bench, self.bench.control
        if control is None:
            return
        part = control.part(self.part_id)
        shown = (
            part, control.outline, control.states, control.size, control.text, bench.kit.palette,
            bench.state, self.is_open, bench.selection.solo == self.part_id,
            bench.kit.controls if embeds_looks(control) else None,
        )
        if len(self._painted) != len(shown) or any(
            value is not before for value, before in zip(shown, self._painted, strict=True)
        ):
            self._painted = shown
            self.setAccessibleName(self._name())
            self.repaint_soon()

    @property
    def stands(self) -> bool:
        """Whether the selected control has this part: just after another is selected, cards are
        still those of the one before.
        """
        control = self.bench.control
        return control is not None and (
            self.part_id == OUTLINE or any(layer.id == self.part_id for layer in control.layers))

    @property
    def is_open(self) -> bool:
        return self.bench.part_id == self.part_id

    def paint(self, painter: QPainter) -> None:
        control = self.bench.control
        if control is None or not self.stands:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        body = QRectF(0.5, 0.5, CARD_W - 1, CARD_H - 1)
        if self.is_open:
            body.setBottom(CARD_H + TAB + 8)  # runs into the open card below
        painter.setBrush(QColor(colours.raised if self.is_open else colours.panel))
        painter.setPen(QPen(QColor(colours.ink if self.is_open else colours.hairline), 1))
        painter.drawRoundedRect(body, 6, 6)
        self._paint_picture(painter, QRectF(6, 6, CARD_W - 12, 46))
        painter.setPen(QColor(colours.ink))
        painter.setFont(ui_font(12, 600 if self.is_open else 400))
        eye = self.part_id != OUTLINE
        box = QRectF(8, 54, CARD_W - (30 if eye else 16), 22)
        metrics = painter.fontMetrics()
        name = metrics.elidedText(self._name(), Qt.TextElideMode.ElideRight, round(box.width()))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, name)
        if eye:
            part = settled(self.bench.drawn, control).part_in(
                self.part_id, parse_flags(self.bench.state))
            middle = self._eye().center()
            painter.setPen(QPen(QColor(colours.dim), 1.5))
            painter.setBrush(QColor(colours.dim) if part.visible else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(middle, 3.5, 3.5)
            if self.bench.selection.solo == self.part_id:
                painter.setPen(QPen(QColor(colours.accent), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(middle, 7, 7)
        if self.hasFocus():
            paint_focus(painter, QRectF(2, 2, CARD_W - 4, CARD_H - 4))

    def _paint_picture(self, painter: QPainter, box: QRectF) -> None:
        bench, control = self.bench, self.bench.control
        assert control is not None
        flags = parse_flags(bench.state)
        resolved = self.look(bench.drawn, control, flags)
        if resolved is None:
            return  # painted once it is resolved
        look, margins = resolved.look, resolved.margins
        if self.part_id == OUTLINE:
            self._paint_outline(painter, box, look.outline)
            return
        part = settled(bench.drawn, control).part_in(self.part_id, flags)
        # What is one thin colour needs a ground it stands out from.
        whole = part.kind in ("fill", "picture", "bevel", "light", "look")
        light = not whole and (
            qcolour(bench.kit.colour(shown_colour(part))).lightnessF() > 0.6
        )
        ground = CHECKER if whole else "#5E6B67" if light else "#EFEAE0"
        paint_backdrop(painter, box, ground, 3, 6)
        caption = "hidden" if not part.visible else "choose one" if part.kind == "look" and (
            self.part_id not in {layer.id for layer in look.layers}) else ""
        if caption:
            painter.setPen(QColor("#F4EFE4" if light else "#55625F"))
            painter.setFont(ui_font(11))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, caption)
            return
        full_w = look.width + margins.left + margins.right
        full_h = look.height + margins.top + margins.bottom
        share = min(1.0, box.width() / full_w, box.height() / full_h)
        scale = share * self.devicePixelRatioF()
        image = self.picture(Wanted(look, scale, margins, self.part_id))
        if image is not None:
            drawn = QRectF(0, 0, full_w * share, full_h * share)
            drawn.moveCenter(box.center())
            painter.drawImage(drawn, image)

    def _paint_outline(self, painter: QPainter, box: QRectF, outline: AnyOutline) -> None:
        paint_backdrop(painter, box, theme().well, 3)
        if self._edge is None or self._edge[0] != outline:
            # Tracing what was joined takes its time.
            self.bench.background.ask(
                "edge of the outline", lambda: (outline, polygons(outline)), self._take_edge)
        if self._edge is None:
            return
        traced, rings = self._edge
        share = min(64 / traced.width, 26 / traced.height)
        painter.setPen(QPen(QColor(theme().dim), 1.5, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(outline_path(traced, rings, share, box.center()))

    def _take_edge(self, edge: Edge) -> None:
        self._edge = edge
        self.repaint_soon()

    def _eye(self) -> QRectF:
        """The dot that shows and hides the layer."""
        return QRectF(CARD_W - 24, 54, 20, 22)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton or not self.stands:
            return
        if self.part_id != OUTLINE and self._eye().contains(event.position()):
            toggle_layer(self.bench, self.part_id)
            return
        self._pressed_at = event.position().toPoint()
        self.opened.emit(self.part_id)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed_at is None or self.part_id == OUTLINE:
            return
        away = (event.position().toPoint() - self._pressed_at).manhattanLength()
        if away >= QApplication.startDragDistance() and self.stands:
            self._pressed_at = None
            drag = QDrag(self)
            data = QMimeData()
            data.setData(LAYER_MIME, self.part_id.encode())
            drag.setMimeData(data)
            drag.setPixmap(self.grab().scaledToWidth(CARD_W))
            drag.setHotSpot(event.position().toPoint())
            drag.exec(Qt.DropAction.MoveAction)

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._pressed_at = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        control = self.bench.control
        if not self.stands:
            super().keyPressEvent(event)
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(self.part_id)
        elif self.part_id != OUTLINE and event.key() == Qt.Key.Key_Delete and control:
            remove_layer(self.bench, self.part_id)
        elif self.part_id != OUTLINE and event.key() == Qt.Key.Key_S and not event.modifiers():
            solo_layer(self.bench, self.part_id)
        elif self.part_id != OUTLINE and event.matches(QKeySequence.StandardKey.Copy):
            copy_to_clipboard(self.bench, self.part_id)
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.opened.emit(self.part_id)
            paste_from_clipboard(self.bench)
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self.part_id != OUTLINE:
            layer_menu(self.bench, self.part_id, self).popup(event.globalPos())


def shown_colour(part: Any) -> str:
    """The colour that a layer is mostly seen in."""
    if getattr(part, "style", "solid") != "solid":
        return str(part.stops[0].colour)
    return str(getattr(part, "colour", "#000000"))


class CardRow(Ground):
    """The row of cards; a dragged card shows where it would land."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__("panel", parent)
        self.bench = bench
        self.cards: dict[str, StripCard] = {}
        self._landing: int | None = None
        self.setAcceptDrops(True)
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(GAP_2)
        self.add_button = QPushButton("+ layer", self)
        self.add_button.setObjectName("addLayer")
        self.add_button.setFixedWidth(CARD_W - 16)
        menu = QMenu(self.add_button)
        menu.setToolTipsVisible(True)
        for kind, title in KIND_TITLES.items():
            if kind == "look":
                self.looks = menu.addMenu(title)
                self.looks.setToolTipsVisible(True)
                tip(self.looks.menuAction(), KIND_HELP[kind])
                self.looks.aboutToShow.connect(self._offer_looks)
                continue
            action = add_action(menu, title, self._add, kind)
            tip(action, KIND_HELP[kind])
        self.add_button.setMenu(menu)
        self.row.addStretch(1)

    def _offer_looks(self) -> None:
        """The controls whose look the selected one can embed."""
        self.looks.clear()
        control = self.bench.control
        others = embeddable(self.bench.kit, control) if control else []
        for shown in others:
            add_action(self.looks, shown.name, self._add, "look", shown)
        if not others:
            self.looks.addAction("There is no other control that it could embed").setEnabled(False)

    def _add(self, kind: str, other: Control | None = None) -> None:
        bench = self.bench
        before = {layer.id for layer in bench.control.layers} if bench.control else set()
        title = KIND_TITLES[kind].lower() if other is None else f"look of {other.name}"
        name, values = (KIND_TITLES[kind], {}) if other is None else (
            other.name, {"control": other.id})
        if bench.edit(
            f"new {title}",
            lambda kit: edits.add_layer(kit, bench.control_id, kind, name, **values),
        ) and bench.control:
            added = next(la.id for la in bench.control.layers if la.id not in before)
            bench.select(part_id=added)

    def refresh(self) -> None:
        control = self.bench.control
        wanted = [OUTLINE, *(layer.id for layer in control.layers)] if control else []
        if list(self.cards) != wanted or any(c.bench.control is None for c in self.cards.values()):
            focused = next((p for p, card in self.cards.items() if card.hasFocus()), None)
            cards = list(self.cards.values())
            self.cards = {part_id: cards.pop(0) if cards else self._new_card(at, part_id)
                          for at, part_id in enumerate(wanted)}
            for part_id, card in self.cards.items():
                card.stand_for(part_id)
            for card in cards:
                card.hide()
                card.deleteLater()
            follow(self, self.cards.values())
            if focused in self.cards:
                self.cards[focused].setFocus()
        for card in self.cards.values():
            card.show_part()

    def _new_card(self, at: int, part_id: str) -> StripCard:
        card = StripCard(part_id, self.bench, self)
        card.opened.connect(lambda part_id: self.bench.select(part_id=part_id))
        self.row.insertWidget(at, card, 0, Qt.AlignmentFlag.AlignTop)
        return card

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasFormat(LAYER_MIME):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        x = event.position().x() - (CARD_W + GAP_2)  # the outline's card stays first
        count = len(self.cards) - 1
        self._landing = max(0, min(count, round(x / (CARD_W + GAP_2))))
        event.acceptProposedAction()
        self.update()

    def dragLeaveEvent(self, _event: object) -> None:
        self._landing = None
        self.update()

    def dropEvent(self, event: QDropEvent) -> None:
        layer_id = bytes(event.mimeData().data(LAYER_MIME).data()).decode()
        landing, self._landing = self._landing, None
        self.update()
        control = self.bench.control
        ids = [layer.id for layer in control.layers] if control else []
        if landing is None or layer_id not in ids:
            return
        event.acceptProposedAction()
        at = ids.index(layer_id)
        move_layer(self.bench, layer_id, landing - 1 if landing > at else landing)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self._landing is None:
            return
        painter = QPainter(self)
        x = (self._landing + 1) * (CARD_W + GAP_2) - GAP_2 / 2
        painter.fillRect(QRectF(x - 1.5, 2, 3, CARD_H - 4), QColor(theme().accent))


class Strip(QWidget):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_5, GAP_2, GAP_5, GAP_5)
        column.setSpacing(0)
        head = QHBoxLayout()
        self.heading = PlainLabel(self)
        self.heading.setProperty("role", "heading")
        self.marks = QPushButton("Marks", self)
        self.marks.setObjectName("quiet")
        tip(self.marks, "What the marks on tiles, layers and values mean")
        self.marks.clicked.connect(lambda: Legend(self).open_below(self.marks))
        order = PlainLabel("back  →  front", self)
        order.setProperty("role", "small")
        head.addWidget(self.heading)
        head.addStretch(1)
        head.addWidget(self.marks)
        head.addSpacing(GAP_2)
        head.addWidget(order)
        column.addLayout(head)
        column.addSpacing(GAP_1)
        self.row = CardRow(bench, self)
        scroll = QScrollArea(self)
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.row)
        scroll.setFixedHeight(CARD_H + TAB)
        scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.viewport().setAutoFillBackground(False)
        self.row.setAutoFillBackground(False)
        self._scroll = scroll
        cards = QHBoxLayout()
        cards.setSpacing(GAP_2)
        cards.addWidget(scroll, 1)
        # Outside the scrolled row, so that it is there however many layers there are.
        cards.addWidget(self.row.add_button, 0, Qt.AlignmentFlag.AlignTop)
        cards.addStretch()
        column.addLayout(cards)
        self.card = OpenCard(bench, self)
        column.addWidget(self.card)
        bench.kit_changed.connect(self.refresh)
        bench.selected_changed.connect(self.refresh)
        bench.view_changed.connect(self.row.refresh)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel moves the cards sideways where they do not all fit."""
        bar = self._scroll.horizontalScrollBar()
        bar.setValue(bar.value() - event.angleDelta().y())

    def refresh(self) -> None:
        control = self.bench.control
        self.setVisible(control is not None)
        if control is None:
            return
        state = "" if self.bench.state == "rest" else f", edited in {self.bench.state}"
        self.heading.setText(f"Layers of {control.name}{state}")
        self.row.refresh()
        count = len(self.row.cards)
        self._scroll.setMaximumWidth(count * CARD_W + (count - 1) * GAP_2)
        self.card.refresh()
        opened = self.row.cards.get(self.bench.part_id)
        if opened is not None:
            self._scroll.ensureWidgetVisible(opened, GAP_5, 0)
