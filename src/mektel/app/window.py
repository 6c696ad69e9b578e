"""The window: route bar, shelf, the room, the try pad; files, themes, keys, drops."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeyEvent,
    QKeySequence,
    QResizeEvent,
    QShortcut,
)
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.layer_menu import copied_layer, paste_from_clipboard
from mektel.app.build.room import BuildRoom
from mektel.app.dialogs import (
    KITS,
    PICTURES,
    SOURCES,
    ask_open,
    ask_open_several,
    ask_save,
    ask_unsaved,
)
from mektel.app.faults import faults, guard
from mektel.app.help.find import FindBox
from mektel.app.help.goals import goals_of
from mektel.app.help.guide import GuidePane
from mektel.app.help.walk import WalkBar
from mektel.app.notices import Notice
from mektel.app.recents import Recents
from mektel.app.route_bar import RouteBar
from mektel.app.settings import Settings
from mektel.app.shelf import Shelf
from mektel.app.theme import apply_theme
from mektel.app.try_pad import TryPad
from mektel.app.versions import show_versions
from mektel.app.widgets.enter import pressed_by_enter
from mektel.app.widgets.field import finish_typing, gave_back
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.notice import NoticeBar
from mektel.app.window_place import open_window, remember_place, restore_place
from mektel.app.workbench import Workbench
from mektel.core.kit import Kit
from mektel.core.kit.conditions import REST
from mektel.formats.kitfile import SUFFIX
from mektel.formats.pictures import SUFFIXES

if TYPE_CHECKING:
    from mektel.app.feel.room import FeelRoom
    from mektel.app.reuse.room import ReuseRoom
    from mektel.app.ship.room import ShipRoom

TRY_PAD = 260
# The width of the guide, and that of a window which has room for it beside the work.
GUIDE, ROOM_FOR_GUIDE = 372, 1240
# The width of a window that has room for a shelf of two columns.
ROOM_FOR_TWO = 1760
ROOMS = ("Build", "Feel", "Reuse", "Ship")


class Window(QMainWindow):
    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self.bench = Workbench(settings, self)
        self.setMinimumSize(1024, 700)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self._closing = False
        self.route = RouteBar(list(ROOMS), self.bench, self)
        self.shelf = Shelf(self.bench, self)
        self.build = BuildRoom(self.bench, self)
        self._ship: ShipRoom | None = None
        self._reuse: ReuseRoom | None = None
        self._feel: FeelRoom | None = None
        self._guide: GuidePane | None = None
        self.walk: WalkBar | None = None
        self.rooms = QStackedWidget(self)
        self.rooms.addWidget(self.build)
        self.try_pad = TryPad(self.bench, self)
        self.try_pad.setMinimumWidth(232)
        self.split = QSplitter(Qt.Orientation.Horizontal, self)
        self.split.setHandleWidth(3)
        self.split.addWidget(self.rooms)
        self.split.addWidget(self.try_pad)
        self.split.setStretchFactor(0, 1)
        self.split.setCollapsible(0, False)
        self.split.setCollapsible(1, False)
        self.split.setSizes([1280 - 152 - TRY_PAD, TRY_PAD])
        whole = QWidget(self)
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setSpacing(0)
        row.addWidget(self.shelf)
        row.addWidget(self.split, 1)
        self.notice = NoticeBar(whole)
        column.addWidget(self.route)
        column.addWidget(self.notice)
        column.addLayout(row, 1)
        self._column = column
        # Takes the focus at first and when empty ground is pressed, so that nothing else has it.
        whole.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setCentralWidget(whole)
        whole.setFocus()
        self._connect()
        self._keys()
        restore_place(self, self.split, settings)
        self.recents = Recents(self.bench)
        self.go_to("Build")
        self._show_title()

    def _connect(self) -> None:
        bench = self.bench
        self.route.room_wanted.connect(self.go_to)
        self.route.find_button.clicked.connect(lambda _=False: self.open_find())
        self.route.help_button.clicked.connect(lambda _=False: self._turn_guide())
        self.route.kit_menu.aboutToShow.connect(self._fill_kit_menu)
        self.shelf.import_wanted.connect(self.ask_import)
        self.build.import_wanted.connect(self.ask_import)
        self.build.paste_wanted.connect(self.paste)
        bench.files.when_safe = self._when_safe
        bench.other_on_disk.connect(lambda path: show_versions(bench, path, self))
        bench.noticed.connect(self.notice.tell)
        bench.timing_wanted.connect(self._show_timing)
        faults().reported.connect(self._show_fault)
        bench.file_changed.connect(self.notice.hide)
        bench.kit_changed.connect(self._show_title)
        bench.file_changed.connect(self._show_title)
        bench.kit_changed.connect(self._show_try_pad)

    def _keys(self) -> None:
        keys: list[tuple[str | QKeySequence.StandardKey, Callable[[], object]]] = [
            ("Ctrl+N", self.ask_new), ("Ctrl+Shift+N", open_window),
            ("Ctrl+O", self.ask_open), ("Ctrl+S", self.save),
            ("Ctrl+Shift+S", self.ask_save), ("Ctrl+I", self.ask_import),
            ("Ctrl+Z", self.bench.undo), ("Ctrl+Shift+Z", self.bench.redo),
            ("Ctrl+Y", self.bench.redo), ("Ctrl+V", self.paste), ("Ctrl+Q", self.close),
            ("Ctrl+K", self.open_find), ("F1", self.show_guide), ("?", self.show_guide),
            *((f"Ctrl+{at}", partial(self.go_to, room)) for at, room in enumerate(ROOMS, 1)),
        ]
        for key, act in keys:
            QShortcut(QKeySequence(key), self, act)

    # Rooms

    @property
    def ship(self) -> ShipRoom:
        """The Ship room, made when it is first wanted: targets take a while to load."""
        if self._ship is None:
            from mektel.app.ship.room import ShipRoom

            guard()
            self._ship = ShipRoom(self.bench, self)
            self.rooms.addWidget(self._ship)
        return self._ship

    @property
    def reuse(self) -> ReuseRoom:
        """The Reuse room, made when it is first wanted."""
        if self._reuse is None:
            from mektel.app.reuse.room import ReuseRoom

            guard()
            self._reuse = ReuseRoom(self.bench, self)
            self.rooms.addWidget(self._reuse)
        return self._reuse

    @property
    def feel(self) -> FeelRoom:
        """The Feel room, made when it is first wanted."""
        if self._feel is None:
            from mektel.app.feel.room import FeelRoom

            guard()
            self._feel = FeelRoom(self.bench, self.try_pad.area.control, self)
            self._feel.answers.heard.connect(self.try_pad.sounds.play)
            self.rooms.addWidget(self._feel)
        return self._feel

    def go_to(self, room: str) -> None:
        finish_typing()
        wanted: dict[str, Callable[[], QWidget]] = {
            "Build": lambda: self.build, "Feel": lambda: self.feel,
            "Reuse": lambda: self.reuse, "Ship": lambda: self.ship}
        self.rooms.setCurrentWidget(wanted[room]())
        self.route.track.stops[room].setChecked(True)
        self._show_try_pad()

    def _show_timing(self, part: str, value: str) -> None:
        self.go_to("Feel")
        self.feel.show_value(part, value)

    def _show_try_pad(self) -> None:
        tried = self.rooms.currentWidget() in (self.build, self._feel)
        if self._guide is not None and self._guide.isVisible() and self.split.isAncestorOf(
                self._guide):
            tried = False
        self.try_pad.setVisible(tried and self.bench.control is not None)

    # Help

    def open_find(self) -> None:
        """Opens the line in which anything can be found by its name."""
        FindBox(goals_of(self), self).open_over(self)

    def start_walk(self) -> None:
        """Leads along the route, step by step; never again by itself."""
        self.end_walk()
        self.bench.settings.walked = True
        self.walk = WalkBar(self)
        self.walk.ended.connect(self.end_walk)
        self._column.insertWidget(1, self.walk)

    def end_walk(self) -> None:
        if self.walk is not None:
            walk, self.walk = self.walk, None
            walk.hide()
            walk.deleteLater()

    def show_guide(self, part: str = "") -> None:
        """Opens the guide at a part, or at what is in front of the user."""
        if self._guide is None:
            self._guide = GuidePane(self)
            self._guide.closed.connect(self.close_guide)
        room = next(name for name, stop in self.route.track.stops.items() if stop.isChecked())
        self._place_guide()
        self._guide.show_part(part or ("Close-up" if self.bench.selection.loupe else room))
        self._guide.text.setFocus()

    def _turn_guide(self) -> None:
        if self._guide is not None and self._guide.isVisible():
            self.close_guide()
        else:
            self.show_guide()

    def close_guide(self) -> None:
        if self._guide is not None:
            self._guide.hide()
            self._show_try_pad()

    def _place_guide(self) -> None:
        """Beside the work, in the place of the try pad; over it where the window is small."""
        guide = self._guide
        if guide is None:
            return
        if self.width() >= ROOM_FOR_GUIDE:
            self.split.addWidget(guide)
            self.try_pad.hide()
            self.split.setSizes([self.split.width() - GUIDE, 0, GUIDE])
        else:
            guide.setParent(self.centralWidget())
            guide.setGeometry(self.width() - GUIDE, self.route.height(), GUIDE,
                              self.height() - self.route.height())
        guide.show()
        guide.raise_()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.shelf.show_columns(2 if self.width() >= ROOM_FOR_TWO else 1)
        if self._guide is not None and self._guide.isVisible():
            self._place_guide()

    def _show_title(self) -> None:
        star = " ●" if self.bench.unsaved else ""
        path = self.bench.files.path
        file = f" – {path.name}" if path is not None else ""
        self.setWindowTitle(f"{self.bench.kit.name}{star}{file} – Mektel")
        self.route.refresh()

    # The kit menu

    def _fill_kit_menu(self) -> None:
        menu = self.route.kit_menu
        menu.clear()
        self._add(menu, "New kit", self.ask_new, "Ctrl+N")
        self._add(menu, "Open…", self.ask_open, "Ctrl+O")
        recent = menu.addMenu("Recent kits")
        self.recents.fill(recent, self.open)
        self._add(menu, "New window", open_window, "Ctrl+Shift+N")
        if self.bench.settings.recent:
            more = menu.addMenu("Open in a new window")
            self.recents.fill(more, open_window)
        self._add(menu, "Open the demo kit", lambda: self._when_safe(self.bench.open_demo))
        menu.addSeparator()
        self._add(menu, "Save", self.save, "Ctrl+S")
        self._add(menu, "Save as…", self.ask_save, "Ctrl+Shift+S")
        self._add(menu, "Import…", self.ask_import, "Ctrl+I")
        self._add(menu, "Read a picture as layers…", self.ask_reading)
        self._add(menu, "Paste CSS as a control", self.paste, "Ctrl+V")
        menu.addSeparator()
        look = menu.addMenu("Theme")
        for choice, title in (
            ("desktop", "As the desktop"), ("light", "Sailcloth, light"),
            ("dark", "Night crossing, dark"),
        ):
            action = add_action(look, title, self.set_theme, choice)
            action.setCheckable(True)
            action.setChecked(self.bench.settings.theme == choice)
        menu.addSeparator()
        self._add(menu, "Quit", self.close, "Ctrl+Q")

    def _add(self, menu: QMenu, text: str, act: Callable[[], object], keys: str = "") -> QAction:
        # The keys are shown, not bound here: the window's own shortcuts act.
        return add_action(menu, f"{text}\t{keys}" if keys else text, act)

    def set_theme(self, choice: str) -> None:
        self.bench.settings.theme = choice
        self.retheme()

    def retheme(self) -> None:
        # To style a widget anew takes a millisecond or two: those that nobody sees need not be.
        self.build.strip.card.drop_spare_bodies()
        apply_theme(self.bench.settings.theme)
        self.try_pad.retheme()
        if self._guide is not None:
            self._guide.retheme()
        self.bench.view_changed.emit()
        if self._ship is not None:
            self._ship.refresh()
        for widget in QApplication.allWidgets():
            widget.update()

    # Files

    def _when_safe(self, act: Callable[[], object]) -> None:
        """Does it now, or once unsaved work is saved or given up."""
        finish_typing()
        if not self.bench.unsaved:
            act()
            return

        ask_unsaved(self, self.bench.kit.name, lambda: self.save(then=act), act)

    def ask_new(self) -> None:
        self._when_safe(lambda: self.bench.start(Kit(), None))

    def ask_open(self) -> None:
        self._when_safe(
            lambda: ask_open(self, "Open kit", KITS, self.bench.folder(), self.bench.open)
        )

    def open(self, path: Path) -> None:
        self._when_safe(lambda: self.bench.open(path))

    def save(self, then: Callable[[], object] | None = None) -> None:
        finish_typing()
        if self.bench.files.path is None or self.bench.files.disk.is_gone:
            self.ask_save(then)
        elif self.bench.save(self.bench.files.path) and then:
            then()

    def ask_save(self, then: Callable[[], object] | None = None) -> None:
        finish_typing()
        name = self.bench.kit.name.lower().replace(" ", "-").replace("/", "-")
        proposed = self.bench.files.path or self.bench.folder() / f"{name}{SUFFIX}"
        if proposed.is_dir():  # a file dialog would go into it
            proposed = proposed.with_stem(f"{proposed.stem} 2")

        def take(path: Path) -> None:
            if self.bench.save(path) and then:
                then()

        ask_save(self, proposed, take)

    def ask_import(self) -> None:
        ask_open_several(self, "Import", SOURCES, self.bench.folder(), self.bench.import_files)

    def ask_reading(self) -> None:
        ask_open(self, "Read a picture as layers", PICTURES, self.bench.folder(),
                 lambda path: self.bench.reading_wanted.emit({REST: path}))

    def paste(self) -> None:
        """A copied layer goes into the selected control; text that is CSS makes a new one."""
        text = QApplication.clipboard().text()
        if copied_layer() and self.bench.control is not None:
            paste_from_clipboard(self.bench)
        elif text.strip():
            self.bench.paste_css(text)
        else:
            self.bench.noticed.emit(Notice(
                "Nothing to paste. Copy a layer, or CSS such as background: teal; "
                "border-radius: 8px.", bad=True))

    # Drops

    def _dropped(self, event: QDropEvent) -> list[Path]:
        return [
            Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()
        ]

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        # What is dragged out of the shelf is not for the window that it comes from.
        source = event.source()
        own = isinstance(source, QWidget) and source.window() is self
        if self._dropped(event) and not own:
            event.acceptProposedAction()
            self.shelf.new_button.show_wanted(True)

    def dragLeaveEvent(self, _event: object) -> None:
        self.shelf.new_button.show_wanted(False)

    def dropEvent(self, event: QDropEvent) -> None:
        self.shelf.new_button.show_wanted(False)
        pictures = [path for path in self._dropped(event) if path.suffix.lower() in SUFFIXES]
        for path in self._dropped(event):
            if path.suffix.lower() == SUFFIX:
                self.open(path)
            elif path.suffix.lower() in (".svg", ".css"):
                self.bench.import_drawing(path)
            elif path not in pictures:
                self.bench.noticed.emit(Notice(
                    f"{path.name} cannot be imported: drop an SVG drawing, a style sheet, "
                    f"pictures or a {SUFFIX} kit.", bad=True
                ))
        # One on the design of a control becomes a layer of it; else they become a control.
        shelf = self.shelf.rect().contains(self.shelf.mapFrom(self, event.position().toPoint()))
        if len(pictures) == 1 and self.bench.control is not None and not shelf:
            self.bench.add_picture(pictures[0])
        elif pictures:
            self.bench.pictures_wanted.emit(pictures)
        event.acceptProposedAction()

    # The window itself

    def _show_fault(self, text: str) -> None:
        """A slot of its own: it is disconnected when this window is gone."""
        self.notice.tell(Notice(text, bad=True))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not gave_back(event) and not pressed_by_enter(event):
            super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent) -> None:
        finish_typing()
        if self.bench.unsaved and not self._closing:
            event.ignore()

            def leave() -> None:
                self._closing = True
                self.bench.files.recovery.drop()
                self.close()

            ask_unsaved(self, self.bench.kit.name, lambda: self.save(then=leave), leave)
            return
        self.bench.files.recovery.end()
        remember_place(self, self.split, self.bench.settings)
        if self._ship is not None:
            self._ship.stop()
        self.try_pad.area.control.stop()
        self.bench.looks.stop()
        self.bench.background.stop()
        self.bench.pictures.stop()
        super().closeEvent(event)
