"""A kit that another program has changed: both versions beside each other, and which to keep."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.names import value_title
from mektel.app.pictures import Wanted
from mektel.app.theme import GAP_2, GAP_3, GAP_4, theme, ui_font
from mektel.app.widgets.backdrop import SAIL, paint_backdrop
from mektel.app.widgets.ground import Ground
from mektel.app.widgets.plain import PlainLabel
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.errors import MektelError
from mektel.core.kit import OUTLINE, Control, Kit
from mektel.core.kit.control import CONTROL
from mektel.core.kit.versions import Differing, DiffersIn, differing, differing_besides
from mektel.core.look import Look, Margins, resolve, shared_margins
from mektel.formats.kitfile import read_kit

NAMES, ROW, TILE = 250, 84, 176
MOST_ROWS, MOST_PLACES = 60, 4
WIDTH, HEIGHT = NAMES + 2 * TILE + 84, 520


@dataclass(frozen=True)
class Row:
    """A control that differs: name, in what, and its look in both versions."""

    name: str
    where: str
    looks: tuple[tuple[Look, Margins] | None, tuple[Look, Margins] | None]


@dataclass(frozen=True)
class Compared:
    """What two versions differ in; ``fault`` says why theirs cannot be read."""

    rows: tuple[Row, ...] = ()
    more: int = 0
    besides: tuple[str, ...] = ()
    fault: str = ""


def compared(mine: Kit, path: Path) -> Compared:
    try:
        theirs = read_kit(path)
    except MektelError as error:
        return Compared(fault=str(error))
    controls = differing(mine, theirs)
    return Compared(
        tuple(_row(mine, theirs, control) for control in controls[:MOST_ROWS]),
        max(0, len(controls) - MOST_ROWS), tuple(differing_besides(mine, theirs)))


def _row(mine: Kit, theirs: Kit, control: Differing) -> Row:
    either = control.mine or control.theirs
    assert either is not None
    where = "only in yours" if control.theirs is None else "only in theirs" if (
        control.mine is None) else _places(control)
    return Row(either.name, where, (_look(mine, control.mine), _look(theirs, control.theirs)))


def _look(kit: Kit, control: Control | None) -> tuple[Look, Margins] | None:
    if control is None:
        return None
    return resolve(kit, control), shared_margins(kit, control)


def _places(control: Differing) -> str:
    places = [_place(control, place) for place in control.where]
    more = len(places) - MOST_PLACES
    return ", ".join(places[:MOST_PLACES]) + (f" and {more} more" if more > 0 else "")


def _place(control: Differing, place: DiffersIn) -> str:
    assert control.mine is not None and control.theirs is not None
    state = "" if place.state == "rest" else f" in {place.state}"
    value = value_title(place.value).lower()
    if place.part == CONTROL:
        return ("order of layers" if value == "order" else value) + state
    names = {layer.id: layer.name for layer in (*control.theirs.layers, *control.mine.layers)}
    title = "outline" if place.part == OUTLINE else names.get(place.part, place.part)
    return f"{title} {value}".strip() + state


class VersionRow(ShowsPictures, QWidget):
    def __init__(self, row: Row, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.row = row
        self.watch(bench.pictures)
        self.setFixedHeight(ROW)
        self.setAccessibleName(f"{row.name}: {row.where}")

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        colours = theme()
        painter.setFont(ui_font(13, 600))
        painter.setPen(QColor(colours.ink))
        text = QRectF(0, 10, NAMES - GAP_3, 20)
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, painter.fontMetrics().elidedText(
            self.row.name, Qt.TextElideMode.ElideRight, round(text.width())))
        painter.setFont(ui_font(12))
        painter.setPen(QColor(colours.dim))
        painter.drawText(QRectF(0, 30, NAMES - GAP_3, ROW - 34),
                         Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop, self.row.where)
        for at, shown in enumerate(self.row.looks):
            area = QRectF(NAMES + at * (TILE + GAP_3), 4, TILE, ROW - 8)
            if shown is None:
                painter.setPen(QPen(QColor(colours.dim), 1, Qt.PenStyle.DashLine))
                painter.drawRoundedRect(area.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
                painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "not there")
            else:
                self._paint_look(painter, area, at, *shown)

    def _paint_look(
        self, painter: QPainter, area: QRectF, at: int, look: Look, margins: Margins
    ) -> None:
        paint_backdrop(painter, area, SAIL)
        room = area.adjusted(10, 8, -10, -8)
        share = min(1.0, room.width() / look.width, room.height() / look.height)
        ratio = self.devicePixelRatioF()
        image = self.picture(Wanted(look, share * ratio, margins), at)
        if image is not None:
            x = room.center().x() - (margins.left + look.width / 2) * share
            y = room.center().y() - (margins.top + look.height / 2) * share
            painter.save()
            painter.setClipRect(area)
            painter.drawImage(QRectF(x, y, image.width() / ratio, image.height() / ratio), image)
            painter.restore()


class Versions(QDialog):
    """Yours at the left, theirs at the right, and a button for each way to go on."""

    def __init__(
        self, path: Path, shown: Compared, choices: dict[str, Callable[[], object]],
        bench: Workbench, parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Changed by another program")
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_4, GAP_4, GAP_4, GAP_4)
        column.setSpacing(GAP_3)
        title = PlainLabel(f"“{path.name}” was changed by another program", self)
        title.setProperty("role", "title")
        column.addWidget(title)
        self.said = PlainLabel(_said(shown), self)
        self.said.setWordWrap(True)
        self.said.setProperty("role", "bad" if shown.fault else "dim")
        column.addWidget(self.said)
        self.rows: list[VersionRow] = []
        if shown.rows:
            column.addLayout(self._heads())
            column.addWidget(self._list(shown.rows, bench), 1)
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        row.setSpacing(GAP_2)
        row.addStretch(1)
        for text, act in {"Go back": lambda: None, **choices}.items():
            self.buttons[text] = QPushButton(text, self)
            self.buttons[text].clicked.connect(partial(self._take, act))
            row.addWidget(self.buttons[text])
        last = list(self.buttons.values())[-1]
        last.setObjectName("main")
        last.setDefault(True)
        column.addLayout(row)
        self.resize(WIDTH, HEIGHT if len(self.rows) > 3 else self.sizeHint().height())

    def _heads(self) -> QHBoxLayout:
        heads = QHBoxLayout()
        heads.setSpacing(GAP_3)
        for text, width in (("Differs in", NAMES - GAP_3), ("Yours", TILE), ("Theirs", TILE)):
            head = PlainLabel(text, self)
            head.setProperty("role", "heading")
            head.setFixedWidth(width)
            heads.addWidget(head)
        heads.addStretch(1)
        return heads

    def _list(self, rows: tuple[Row, ...], bench: Workbench) -> QScrollArea:
        area = QScrollArea(self)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setMinimumHeight(min(3, len(rows)) * ROW)
        inside = Ground("ground", area)
        lines = QVBoxLayout(inside)
        lines.setContentsMargins(0, 0, 0, 0)
        lines.setSpacing(0)
        for row in rows:
            self.rows.append(VersionRow(row, bench, inside))
            lines.addWidget(self.rows[-1])
        lines.addStretch(1)
        area.setWidget(inside)
        return area

    def _take(self, act: Callable[[], object]) -> None:
        self.accept()
        act()


def _said(shown: Compared) -> str:
    if shown.fault:
        return f"Theirs cannot be read. {shown.fault}"
    said = []
    count = len(shown.rows) + shown.more
    said.append("The controls are the same in both." if not count
                else "1 control differs." if count == 1 else f"{count} controls differ.")
    if shown.more:
        said.append(f"The first {len(shown.rows)} are shown.")
    if shown.besides:
        said.append(f"Also different: {', '.join(value_title(n).lower() for n in shown.besides)}.")
    return " ".join(said)


def show_versions(bench: Workbench, path: Path, parent: QWidget) -> None:
    """Compares them beside the interface thread and asks which to keep; nothing is lost before
    the user decides.
    """
    mine = bench.drawn

    def show(shown: Compared) -> None:
        copy = path.with_name(f"{path.stem} (mine){path.suffix}")
        choices: dict[str, Callable[[], object]] = {}
        if not shown.fault:
            theirs = "Load theirs, drop mine" if bench.unsaved else "Load theirs"
            choices[theirs] = lambda: bench.open(path)
        choices["Save mine over theirs"] = lambda: bench.save(path, over=True)
        choices[f"Save mine as “{copy.name}”"] = lambda: bench.save(copy)
        Versions(path, shown, choices, bench, parent).open()

    bench.background.ask("versions", lambda: compared(mine, path), show)
