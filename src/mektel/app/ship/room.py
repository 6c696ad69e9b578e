"""The Ship room: what each target draws how, the files, how to use them, the measured match."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection
from pathlib import Path

from PySide6.QtCore import Qt, QTimer, QUrl
from PySide6.QtGui import QDesktopServices, QGuiApplication, QPixmap
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mektel.app.notices import Notice
from mektel.app.ship.code_view import CodeView, load_languages
from mektel.app.ship.match_table import MatchPanel
from mektel.app.ship.plan_view import HOW_ROLE, PlanView
from mektel.app.ship.targets import TargetCard
from mektel.app.ship.worker import PreviewWork, ShipWork
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_5
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.whole_rows import WholeRows
from mektel.app.workbench import Workbench
from mektel.core.errors import MektelError
from mektel.core.finding import Finding
from mektel.core.kit import Kit
from mektel.targets import TARGETS, ForeignFilesError, NamingError, OutFile
from mektel.targets.overview import ControlVerdicts, worst_first

RUNS_IN = {
    "qtwidgets": "Run in Qt", "web": "Run in Chromium", "sprites": "Assembled from the sheets",
    "svg": "Run in Chromium",
}


def _counted(kit: Kit) -> dict[str, Counter[str]]:
    """For each target, how many layers of the whole kit it draws how."""
    return {name: Counter(plan.how for control in kit.controls
                          for plan in target.plan(kit, control))
            for name, target in TARGETS.items()}


class ShipRoom(QWidget):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("room")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.bench = bench
        self.selected = next(iter(TARGETS))
        self._work: ShipWork | None = None
        self._previews: list[PreviewWork] = []
        self._late = QTimer(self, singleShot=True, interval=150)
        self._late.timeout.connect(self._make_previews)
        self._stopped = False
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_5 - 6, GAP_3, GAP_5, GAP_5)
        column.setSpacing(GAP_3)
        column.addWidget(self._head())
        self.cards: dict[str, TargetCard] = {}
        cards = QHBoxLayout()
        cards.setSpacing(0)
        for target in TARGETS.values():
            card = TargetCard(target.id, target.title, target.summary, self)
            card.selected.connect(self.select)
            card.chosen.connect(self._choose)
            self.cards[target.id] = card
            cards.addWidget(card, 1)
        cards.addStretch(0)
        column.addLayout(cards)
        body = QHBoxLayout()
        body.setSpacing(GAP_5)
        body.setContentsMargins(6, 0, 0, 0)
        body.addWidget(self._left(), 0)
        body.addWidget(self._middle(), 1)
        self.match = MatchPanel(
            {target.id: target.title.split()[0] for target in TARGETS.values()}, self)
        self.match.matrix.selected.connect(self._go_to)
        body.addWidget(self.match, 0)
        column.addLayout(body, 1)
        # Loading the words of a language takes a quarter of a second when first wanted.
        bench.background.ask("languages", load_languages, lambda _: None)
        bench.kit_changed.connect(self.refresh)
        bench.selected_changed.connect(self._show_selected_control)
        bench.file_changed.connect(self._suggest_folder)
        self._suggest_folder()

    # Building

    def _head(self) -> QWidget:
        whole = QWidget(self)
        row = Flow(whole, GAP_3, GAP_1)
        row.setContentsMargins(6, 0, 0, 0)
        title = PlainLabel("Ship", self)
        title.setProperty("role", "title")
        self.what = PlainLabel(self)
        self.what.setProperty("role", "dim")
        self.folder = QLineEdit(self)
        self.folder.setAccessibleName("Folder to write to")
        self.folder.setMinimumWidth(240)
        self.browse = QPushButton("Choose…", self)
        self.browse.setObjectName("quiet")
        self.browse.clicked.connect(self._browse)
        self.open_folder = QPushButton("Open folder", self)
        self.open_folder.setObjectName("quiet")
        tip(self.open_folder, "Shows what was written in the file manager")
        self.open_folder.clicked.connect(self._open_folder)
        self.folder.textChanged.connect(self._mark_folder)
        self.progress = QProgressBar(self)
        self.progress.setTextVisible(False)
        self.progress.setFixedWidth(140)
        self.doing = PlainLabel(self)
        self.doing.setProperty("role", "small")
        self.cancel = QPushButton("Stop", self)
        self.write = QPushButton("Write only", self)
        self.run = QPushButton("Write and run all", self)
        self.run.setObjectName("main")
        self.write.clicked.connect(lambda: self.start(False))
        self.run.clicked.connect(lambda: self.start(True))
        self.cancel.clicked.connect(self._cancel)
        for widget in (title, self.what, self.folder, self.browse, self.open_folder):
            row.add(widget)
        row.add_space()
        work: list[QWidget] = [self.doing, self.progress, self.cancel]
        for button in [*work, self.write, self.run]:
            row.add(button)
        for part in work:
            part.hide()
        return whole

    def _heading(self, text: str) -> QLabel:
        label = PlainLabel(text, self)
        label.setProperty("role", "heading")
        return label

    def _left(self) -> QWidget:
        left = QWidget(self)
        self.at_left = left
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(GAP_2)
        self.files = WholeRows(left)
        self.files.setAccessibleName("Generated files")
        self.files.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.files.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.files.currentRowChanged.connect(self._show_file)
        column.addWidget(self._heading("Files"))
        column.addWidget(self.files, 3)
        column.addWidget(self._heading("How it is drawn"))
        self.plan = PlanView(left)
        column.addWidget(self.plan, 2)
        return left

    def _middle(self) -> QWidget:
        middle = QWidget(self)
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(GAP_2)
        self.file_name = self._heading("")
        self.view = QStackedWidget(middle)
        self.code = CodeView(self.view)
        self.picture = PlainLabel(self.view)
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.view.addWidget(self.code)
        self.view.addWidget(self.picture)
        self.usage = CodeView(middle)
        self.usage.setFixedHeight(124)
        self.copy_code = self._copies(self.code, "the file")
        self.copy_usage = self._copies(self.usage, "these lines")
        column.addLayout(self._headed(self.file_name, self.copy_code))
        column.addWidget(self.view, 1)
        column.addLayout(self._headed(self._heading("Use it"), self.copy_usage))
        column.addWidget(self.usage)
        return middle

    @staticmethod
    def _headed(heading: QLabel, button: QPushButton) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(heading, 1)
        row.addWidget(button)
        return row

    def _copies(self, code: CodeView, what: str) -> QPushButton:
        button = QPushButton("Copy", self)
        button.setObjectName("quiet")
        tip(button, f"Copies {what} to the clipboard")
        button.clicked.connect(lambda: self._copy(code, what))
        return button

    def _copy(self, code: CodeView, what: str) -> None:
        QGuiApplication.clipboard().setText(code.whole)
        self.bench.noticed.emit(Notice(f"Copied {what} to the clipboard."))

    def _mark_folder(self) -> None:
        self.open_folder.setEnabled(Path(self.folder.text()).expanduser().is_dir())

    def _open_folder(self) -> None:
        folder = Path(self.folder.text()).expanduser()
        if not QDesktopServices.openUrl(QUrl.fromLocalFile(str(folder))):
            self.bench.noticed.emit(Notice(
                f"No file manager answered. The files are in {folder}.", bad=True))

    # Showing

    def _suggest_folder(self) -> None:
        base = self.bench.files.path.resolve().parent if self.bench.files.path else Path.home()
        name = self.bench.files.path.stem if self.bench.files.path else "mektel"
        self.folder.setText(str(base / f"{name}-controls"))

    def refresh(self) -> None:
        count = len(self.bench.kit.controls)
        chosen = sum(card.state.chosen for card in self.cards.values())
        controls = "1 control" if count == 1 else f"{count} controls"
        targets = "1 target" if chosen == 1 else f"{chosen} targets"
        self.what.setText(f"{controls} to {targets}, into")
        ready = count > 0 and chosen > 0 and self._work is None
        self.run.setEnabled(ready)
        self.write.setEnabled(ready)
        for name, card in self.cards.items():
            card.kit = self.bench.kit
            card.is_selected = name == self.selected
            card.update()
        if self.isVisible():
            kit = self.bench.kit
            self.bench.background.ask("plans", lambda: _counted(kit), self._show_counts)
            self._late.start()
        self._show_selected_control()

    def _show_counts(self, counts: dict[str, Counter[str]]) -> None:
        for name, card in self.cards.items():
            card.state.counts = {how: counts[name][how] for how in HOW_ROLE}
            card.update()

    def resizeEvent(self, event: object) -> None:
        """The code gets what the files and figures can spare."""
        super().resizeEvent(event)  # type: ignore[arg-type]
        for side, share, (least, most) in (
                (self.at_left, 0.19, (168, 320)), (self.match, 0.29, (240, 420))):
            side.setFixedWidth(min(most, max(least, round(share * self.width()))))

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def _make_previews(self) -> None:
        if self._stopped:
            return
        for name, card in self.cards.items():
            if card.state.made_for != self.bench.kit:
                for stale in self._previews:
                    if stale.target == name:
                        stale.cancel()
                work = PreviewWork(self.bench.kit, name)
                work.made.connect(self._take_preview)
                work.failed.connect(self._take_fault)
                work.finished.connect(self._drop_finished)
                self._previews.append(work)
                work.start()

    def _drop_finished(self) -> None:
        for work in [work for work in self._previews if work.isFinished()]:
            work.wait()  # it says so a moment before it ends, and may not go before that
            self._previews.remove(work)

    def _take_preview(self, name: str, kit: Kit, files: list[OutFile]) -> None:
        if kit != self.bench.kit:
            return
        state = self.cards[name].state
        state.files, state.made_for = files, kit
        self.cards[name].update()
        if name == self.selected:
            self._show_files()

    def select(self, name: str) -> None:
        self.selected = name
        self.bench.view(target=name)
        self.refresh()
        self._show_files()

    def _choose(self, name: str, chosen: bool) -> None:
        self.cards[name].state.chosen = chosen
        self.refresh()

    def _show_files(self) -> None:
        files = self.cards[self.selected].state.files
        names = [str(file.path) for file in files]
        if names != [self.files.item(at).text() for at in range(self.files.count())]:
            self.files.blockSignals(True)
            self.files.clear()
            self.files.addItems(names)
            self.files.blockSignals(False)
        control = self.bench.control
        if control is not None:
            main = str(TARGETS[self.selected].main_file(control))
            if main in names:
                self.files.setCurrentRow(names.index(main))
        self._show_file(self.files.currentRow())

    def _show_file(self, row: int) -> None:
        files = self.cards[self.selected].state.files
        if not 0 <= row < len(files):
            self.file_name.setText("")
            self.code.show_code("", "")
            return
        file = files[row]
        self.file_name.setText(str(file.path))
        if file.language:
            self.view.setCurrentWidget(self.code)
            self.copy_code.show()
            self.code.show_code(file.text, file.language)
            return
        self.copy_code.hide()
        self.view.setCurrentWidget(self.picture)
        pixmap = QPixmap()
        if file.path.suffix == ".png" and pixmap.loadFromData(file.content):
            room = self.view.size() - self.view.size() * 0.05
            if pixmap.width() > room.width() or pixmap.height() > room.height():
                pixmap = pixmap.scaled(
                    room, Qt.AspectRatioMode.KeepAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
            self.picture.setPixmap(pixmap)
        else:
            self.picture.setText(f"{file.path.name}, {len(file.content) // 1024} KB")

    def _show_selected_control(self) -> None:
        control = self.bench.control
        if not self.isVisible():
            return
        if control is None:
            self.plan.clear()
            self.match.show_matches("", "", "", [])
            self.usage.show_code("", "")
            return
        target, kit = TARGETS[self.selected], self.bench.kit
        self.bench.background.ask("plan", lambda: target.plan(kit, control), self.plan.show_plans)
        self.usage.show_code(*target.usage(kit, control))
        self._show_files()
        self._show_match()

    def _show_match(self) -> None:
        control, state = self.bench.control, self.cards[self.selected].state
        mine = [m for m in state.matches if control and m.control == control.id]
        run_in = RUNS_IN.get(self.selected, "Run")
        text = ""
        if state.fault:
            text = state.fault
        elif not mine:
            text = ("Not run yet. “Write and run all” brings the shipped control into every "
                     "state with real input and measures it against the design.")
        elif state.measured_for != self.bench.kit:
            text = "The kit has changed since. Run again for new figures."
        scale = f" at {mine[0].scale}×" if mine else ""
        name = control.name if control is not None else ""
        self.match.show_matches(name, f"{run_in}{scale}", text, mine)
        self.match.matrix.show_selected(self.bench.control_id, self.selected)

    def _go_to(self, control: str, target: str, state: str) -> None:
        """Shows the figures of one control, target and state out of all."""
        self.bench.select(control)
        self.select(target)
        self.match.go_to(state)

    def _measure_all(self) -> None:
        """Judging every block of every picture takes a while."""
        matches = {name: list(card.state.matches) for name, card in self.cards.items()
                   if card.state.matches}
        self.bench.background.ask("overview", lambda: worst_first(matches), self._show_overview)

    def _show_overview(self, rows: list[ControlVerdicts]) -> None:
        self.match.show_overview(
            rows, {control.id: control.name for control in self.bench.kit.controls})

    # Working

    def _browse(self) -> None:
        from mektel.app.dialogs import ask_folder

        ask_folder(self, self.folder.text(), lambda path: self.folder.setText(str(path)))

    def start(
        self, run_too: bool, only: str = "", replacing: Collection[str] = ()
    ) -> None:
        """Writes the chosen targets, or ``only`` one of them in which files are to be replaced."""
        folder = self.folder.text().strip()
        if not folder:
            self.bench.noticed.emit(Notice("Name a folder to write to first.", bad=True))
            self.folder.setFocus()
            return
        chosen = [only] if only else [
            name for name, card in self.cards.items() if card.state.chosen]
        for name in chosen:
            self.cards[name].state.fault = ""
        self._work = ShipWork(self.bench.kit, chosen, Path(folder).expanduser(), run_too,
                              replacing)
        self._work.progressed.connect(self._show_progress)
        self._work.written.connect(self._take_written)
        self._work.measured.connect(self._take_measured)
        self._work.failed.connect(self._take_fault)
        self._work.finished.connect(self._finish)
        self._written = 0
        self.progress.setRange(0, 0)
        for widget in (self.doing, self.progress, self.cancel):
            widget.show()
        for widget in (self.write, self.run):
            widget.hide()
        self.refresh()
        self._work.start()

    def _show_progress(self, done: int, of: int, text: str) -> None:
        self.progress.setRange(0, of)
        self.progress.setValue(done)
        self.doing.setText(self.doing.fontMetrics().elidedText(
            text, Qt.TextElideMode.ElideMiddle, 190))

    def _cancel(self) -> None:
        if self._work is not None:
            self._work.cancel()
            self.doing.setText("stopping…")

    def _take_written(self, name: str, paths: list[Path]) -> None:
        self._written += len(paths)
        self.cards[name].state.written = True

    def _take_measured(self, name: str, kit: Kit, matches: list) -> None:
        state = self.cards[name].state
        state.matches, state.measured_for = matches, kit
        self.cards[name].update()
        self._show_match()
        self._measure_all()

    def _take_fault(self, name: str, fault: MektelError) -> None:
        text = str(fault)
        self.cards[name].state.fault = text
        self.cards[name].update()
        self._show_match()
        work = self._work
        if isinstance(fault, ForeignFilesError) and work is not None:
            paths, run_too = fault.paths, work.run_too
            self.bench.noticed.emit(Notice(
                text, bad=True, action="Replace it" if len(paths) == 1 else "Replace them",
                act=lambda: self.start(run_too, name, paths)))
            return
        self._tell(text, fault.clashes[0] if isinstance(fault, NamingError) else None)

    def _tell(self, text: str, clash: Finding | None) -> None:
        mend = clash.mend if clash is not None else None
        if mend is None or mend.edit is None:
            self.bench.noticed.emit(Notice(text, bad=True))
            return
        edit, named = mend.edit, mend.text.rstrip(".")
        self.bench.noticed.emit(Notice(
            text, bad=True, action=named,
            act=lambda: self.bench.edit(f"{named[0].lower()}{named[1:]}", edit)))

    def _finish(self) -> None:
        work, self._work = self._work, None
        if work is not None:
            work.wait()
        for widget in (self.doing, self.progress, self.cancel):
            widget.hide()
        for widget in (self.write, self.run):
            widget.show()
        self.refresh()
        self._mark_folder()
        if work is not None and self._written and not any(
            self.cards[name].state.fault for name in work.targets
        ):
            self.bench.noticed.emit(Notice(f"{self._written} files written to {work.folder}."))

    @property
    def working(self) -> bool:
        return self._work is not None or bool(self._previews)

    def stop(self) -> None:
        """Ends all work for good, and waits for what is under way."""
        self._late.stop()
        self._stopped = True
        self._cancel()
        for preview in self._previews:
            preview.cancel()
        for work in [*self._previews, *([self._work] if self._work else [])]:
            work.wait()
