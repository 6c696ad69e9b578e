"""The Build room: header, wall, strip; or, with an empty shelf, what to do first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property, partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.loupe import Loupe
from mektel.app.build.states import behaviour_menu, behaviour_title
from mektel.app.build.strip import Strip
from mektel.app.build.wall import BRACKET, Wall
from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_4, GAP_5, paint_focus, theme, ui_font
from mektel.app.widgets.backdrop import (
    CHECKER,
    DECK,
    DUSK,
    NIGHT,
    SAIL,
    WHITE,
    BackdropChips,
    caption_colour,
    paint_backdrop,
    paint_plate,
)
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.kit import Kit
from mektel.core.kit import edit as edits
from mektel.core.look import resolve, shared_margins
from mektel.formats.kitfile import read_sample
from mektel.samples import starter_files

if TYPE_CHECKING:
    from mektel.app.bring_in.pictures_view import PicturesView
    from mektel.app.bring_in.reading_view import ReadingView
    from mektel.app.bring_in.sheet_view import SheetView

ACROSS, TILE = 5, (168, 124)
# What shows a starter best, where that is not sailcloth.
GROUNDS = {"lens": DECK, "pane": NIGHT}


class Densities(QWidget):
    """1×, 2×, 3×: how many pixels a px gets on the wall."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.group = QButtonGroup(self)
        for density in (1, 2, 3):
            button = QPushButton(f"{density}×", self)
            button.setCheckable(True)
            button.setChecked(density == bench.density)
            tip(button, f"Show {density} pixels per px")
            edges = {1: "border-top-right-radius: 0; border-bottom-right-radius: 0;",
                     2: "border-radius: 0; border-left-width: 0; border-right-width: 0;",
                     3: "border-top-left-radius: 0; border-bottom-left-radius: 0;"}
            button.setProperty("segment", True)
            button.setStyleSheet(f"QPushButton {{ {edges[density]} }}")
            button.clicked.connect(lambda _=False, density=density: bench.view(density=density))
            self.group.addButton(button, density)
            row.addWidget(button)
        bench.view_changed.connect(lambda: self.group.button(bench.density).setChecked(True))


class Header(QWidget):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        row = Flow(self, GAP_2, GAP_1)
        row.setContentsMargins(BRACKET, 0, BRACKET, 0)
        self.name = QLineEdit(self)
        self.name.setObjectName("title")
        self.name.setAccessibleName("Control name")
        self.name.setMaxLength(80)
        self.name.editingFinished.connect(self._rename)
        self.kind = QPushButton(self)
        self.kind.setObjectName("quiet")
        self.kind.setAccessibleName("Behaviour")
        tip(self.kind, "How the control behaves, and so which states it has")
        self.kind.setMenu(behaviour_menu(bench, self.kind))
        self.measures = PlainLabel(self)
        self.measures.setProperty("role", "dim")
        self.schemes = QPushButton(self)
        self.schemes.setProperty("small", True)
        self.schemes.setAccessibleName("Palette scheme")
        tip(self.schemes, "Which of the palette's schemes is shown")
        menu = QMenu(self.schemes)
        menu.aboutToShow.connect(lambda: self._fill_schemes(menu))
        self.schemes.setMenu(menu)
        on = PlainLabel("Backdrop", self)
        on.setProperty("role", "dim")
        self.chips = BackdropChips(self)
        self.chips.chosen.connect(lambda backdrop: bench.view(backdrop=backdrop))
        self.densities = Densities(bench, self)
        self.loupe = QPushButton("Close-up", self)
        self.loupe.setCheckable(True)
        self.loupe.setProperty("small", True)
        tip(self.loupe, "The selected state large, with handles on the picture (L)")
        self.loupe.clicked.connect(lambda on: bench.view(loupe=bench.state if on else ""))
        for at_left in (self.name, self.kind, self.measures):
            row.add(at_left)
        row.add_space()
        for at_right in (self.schemes, on, self.chips, self.densities, self.loupe):
            row.add(at_right)
        policy = self.sizePolicy()
        policy.setHeightForWidth(True)
        policy.setVerticalPolicy(QSizePolicy.Policy.Minimum)
        self.setSizePolicy(policy)

    def refresh(self) -> None:
        control = self.bench.control
        if control is None:
            return
        if not self.name.isModified():
            self.name.setText(control.name)
        width = self.name.fontMetrics().horizontalAdvance(control.name)
        self.name.setFixedWidth(max(60, min(260, width + 24)))
        count = len(self.bench.selected_controls())
        self.kind.setText(f"{behaviour_title(control.behaviour)}  ▾")
        shown = self.bench.shown_size
        size = " × ".join(f"{round(side, 1):g}" for side in shown) + " px"
        self.measures.setText(size if count < 2 else f"{size} · and {count - 1} more selected")
        schemes = self.bench.kit.schemes
        self.schemes.setVisible(len(schemes) > 1)
        scheme = self.bench.selection.scheme or (schemes[0] if schemes else "")
        self.schemes.setText(f"Scheme: {scheme}  ▾")
        self.loupe.setChecked(bool(self.bench.selection.loupe))
        palette = [swatch.colour[:7] for swatch in self.bench.kit.palette[:1]]
        choices = list(dict.fromkeys([CHECKER, SAIL, WHITE, NIGHT, *palette, DUSK, DECK]))
        self.chips.show_choices(choices, self.bench.backdrop)

    def _fill_schemes(self, menu: QMenu) -> None:
        menu.clear()
        schemes = self.bench.kit.schemes
        shown = self.bench.selection.scheme or schemes[0]
        for scheme in schemes:
            action = add_action(menu, scheme, partial(self.bench.view, scheme=scheme))
            action.setCheckable(True)
            action.setChecked(scheme == shown)

    def _rename(self) -> None:
        control = self.bench.control
        title, typed = self.name.text().strip(), self.name.isModified()
        self.name.setModified(False)
        if control is not None and typed and title and title != control.name:
            self.bench.edit(
                f"rename {control.name}",
                lambda kit: edits.set_field(kit, control.id, "name", title),
            )
        self.refresh()


class StarterTile(ShowsPictures, QAbstractButton):
    """A starter as it really looks."""

    def __init__(self, name: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self._name = name
        self.watch(bench.pictures)
        self.setText(name.capitalize())
        self.setAccessibleName(f"Starter {name}")
        self.setFixedSize(*TILE)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    @cached_property
    def _kit(self) -> Kit:
        return read_sample(starter_files()[self._name])

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        ground = GROUNDS.get(self._name, SAIL)
        paint_backdrop(painter, area, ground)
        paint_plate(painter, QRectF(area.x(), area.bottom() - 26, area.width(), 26), ground)
        control = self._kit.controls[0]
        look = resolve(self._kit, control, {"hover"} if self.underMouse() else ())
        margins = shared_margins(self._kit, control)
        ratio = self.devicePixelRatioF()
        share = min(1.0, 132 / look.width)
        x = round(area.center().x() - (margins.left + look.width / 2) * share)
        y = round(area.center().y() - 10 - (margins.top + look.height / 2) * share)
        behind = behind_for(look, ground, area, QPointF(x, y), ratio)
        image = self.picture(Wanted(look, share * ratio, margins, behind=behind))
        if image is not None:
            painter.drawImage(
                QRectF(x, y, image.width() / ratio, image.height() / ratio), image
            )
        painter.setFont(ui_font(12, 600))
        painter.setPen(caption_colour(ground, True))
        painter.drawText(area.adjusted(10, 0, -10, -6), Qt.AlignmentFlag.AlignBottom, self.text())
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))


class WayTile(QAbstractButton):
    """Another way to begin, among the starters."""

    def __init__(self, title: str, text: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setText(title)
        self._text = text
        self.setAccessibleName(title)
        self.setAccessibleDescription(text)
        self.setFixedSize(*TILE)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        strong = self.underMouse() or self.hasFocus()
        painter.setPen(QPen(QColor(colours.ink if strong else colours.dim), 1,
                            Qt.PenStyle.DashLine))
        area = QRectF(self.rect()).adjusted(2.5, 2.5, -2.5, -2.5)
        painter.drawRoundedRect(area, 6, 6)
        inner = area.adjusted(12, 12, -12, -10)
        painter.setPen(QColor(colours.ink))
        painter.setFont(ui_font(13, 600))
        painter.drawText(inner, Qt.AlignmentFlag.AlignBottom, self.text())
        painter.setFont(ui_font(12))
        painter.setPen(QColor(colours.dim))
        painter.drawText(inner.adjusted(0, 0, 0, -24),
                         Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap, self._text)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))


class EmptyRoom(QWidget):
    """Says what to do next while the shelf is empty."""

    import_wanted = Signal()
    paste_wanted = Signal()

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        scroll = QScrollArea(self)
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget(scroll)
        scroll.setWidget(inside)
        outer.addWidget(scroll)
        column = QVBoxLayout(inside)
        column.addStretch(2)
        title = PlainLabel("Start with a button", inside)
        title.setProperty("role", "title")
        hint = PlainLabel(
            "Take one of these and change it, or bring a design of your own: drop a drawing (SVG), "
            "a style sheet (CSS) or pictures of its states anywhere in this window.", inside)
        hint.setProperty("role", "dim")
        hint.setWordWrap(True)
        for label in (title, hint):
            label.setAlignment(Qt.AlignmentFlag.AlignCenter)
            column.addWidget(label)
        column.addSpacing(GAP_4)
        self._grid = QGridLayout()
        self._grid.setSpacing(GAP_3)
        self.starters: dict[str, StarterTile] = {}
        for name in starter_files():
            self.starters[name] = StarterTile(name, bench, inside)
            self.starters[name].clicked.connect(partial(bench.add_starter, name))
        self.empty_tile = WayTile("Empty control", "an outline, to build from nothing", inside)
        self.empty_tile.clicked.connect(bench.add_empty)
        self.import_tile = WayTile("Import…", "drawings, style sheets, pictures", inside)
        self.import_tile.clicked.connect(self.import_wanted)
        self.css_tile = WayTile("Paste CSS", "copy the rules of a button first", inside)
        self.css_tile.clicked.connect(self.paste_wanted)
        self._tiles = [*self.starters.values(), self.empty_tile, self.import_tile, self.css_tile]
        column.addLayout(self._grid)
        column.addSpacing(GAP_5)
        self.demo_button = QPushButton("Open the demo kit", inside)
        self.demo_button.clicked.connect(bench.open_demo)
        column.addWidget(self.demo_button, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addStretch(3)

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        across = min(ACROSS, max(2, (self.width() - 2 * GAP_5) // (TILE[0] + GAP_3)))
        for at, tile in enumerate(self._tiles):
            self._grid.addWidget(tile, at // across, at % across + 1)
        for at in range(ACROSS + 2):
            self._grid.setColumnStretch(at, int(at in (0, across + 1)))


class BuildRoom(QStackedWidget):
    import_wanted = Signal()
    paste_wanted = Signal()

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("room")
        self.bench = bench
        self.empty = EmptyRoom(bench, self)
        self.empty.import_wanted.connect(self.import_wanted)
        self.empty.paste_wanted.connect(self.paste_wanted)
        full = QWidget(self)
        column = QVBoxLayout(full)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        upper = QVBoxLayout()
        upper.setContentsMargins(GAP_5 - BRACKET, GAP_3, GAP_5 - BRACKET, GAP_2)
        upper.setSpacing(GAP_2)
        self.header = Header(bench, full)
        self.wall = Wall(bench, full)
        upper.addWidget(self.header)
        self.loupe = Loupe(bench, full)
        self.ground = QStackedWidget(full)
        self.ground.addWidget(self.wall)
        self.ground.addWidget(self.loupe)
        upper.addWidget(self.ground, 1)
        self.strip = Strip(bench, full)
        bench.text_wanted.connect(self._edit_text)
        column.addLayout(upper, 1)
        column.addWidget(self.strip)
        self.addWidget(full)
        self.addWidget(self.empty)
        # What is being brought in, over everything else here.
        self.over: SheetView | PicturesView | ReadingView | None = None
        bench.sheet_wanted.connect(self.show_sheet)
        bench.pictures_wanted.connect(self.show_pictures)
        bench.reading_wanted.connect(self.show_reading)
        bench.kit_changed.connect(self.refresh)
        bench.selected_changed.connect(self.refresh)
        bench.view_changed.connect(self.refresh)

    @property
    def sheet(self) -> SheetView | None:
        from mektel.app.bring_in.sheet_view import SheetView

        return self.over if isinstance(self.over, SheetView) else None

    @property
    def pictures(self) -> PicturesView | None:
        from mektel.app.bring_in.pictures_view import PicturesView

        return self.over if isinstance(self.over, PicturesView) else None

    @property
    def reading(self) -> ReadingView | None:
        from mektel.app.bring_in.reading_view import ReadingView

        return self.over if isinstance(self.over, ReadingView) else None

    def show_sheet(self, text: str, source: str) -> None:
        """Opens a style sheet to choose from."""
        from mektel.app.bring_in.sheet_view import SheetView

        self._open_over(SheetView(text, source, self.bench, self))

    def show_pictures(self, paths: Sequence[Path]) -> None:
        """Opens pictures to make a control of."""
        from mektel.app.bring_in.pictures_view import PicturesView

        self._open_over(PicturesView(paths, self.bench, self))

    def show_reading(self, paths: Mapping[str, Path]) -> None:
        """Opens flat pictures, by their states, to be read as layers."""
        from mektel.app.bring_in.reading_view import ReadingView

        self._open_over(ReadingView(paths, self.bench, self))

    def _open_over(self, view: SheetView | PicturesView | ReadingView) -> None:
        self._close_over()
        self.over = view
        view.closed.connect(self._close_over)
        self.addWidget(view)
        self.setCurrentWidget(view)
        view.setFocus()

    def _edit_text(self, label: str) -> None:
        control = self.bench.control
        if control is not None and control.layer(label).kind == "label":
            self.bench.select(part_id=label)
            self.strip.card.edit_text()

    def _close_over(self) -> None:
        if self.over is not None:
            over, self.over = self.over, None
            self.removeWidget(over)
            over.stop()
            over.deleteLater()
            self.refresh()

    def refresh(self) -> None:
        self.header.refresh()
        large = bool(self.bench.selection.loupe) and self.bench.control is not None
        if self.ground.currentIndex() != int(large):
            self.ground.setCurrentIndex(int(large))
            if large:
                self.loupe.view.zoom_to(0.0)
                self.loupe.view.setFocus()
            else:
                self.wall.tiles[self.bench.state].setFocus()
        if self.over is None:
            self.setCurrentIndex(0 if self.bench.control is not None else 1)

    def minimumSizeHint(self) -> QSize:
        return QSize(600, 400)
