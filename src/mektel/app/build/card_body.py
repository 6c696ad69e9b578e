"""What an open card shows of a part: its pages, their dials in columns, and what differs."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from PySide6.QtCore import QPoint, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from mektel.app.build.arguments import Arguments
from mektel.app.build.content_dials import PREFIX, content_dial
from mektel.app.build.differs import DiffersIn
from mektel.app.build.drive import drive_menu
from mektel.app.build.joins import Joins
from mektel.app.build.layer_menu import layer_menu
from mektel.app.build.pages import Column
from mektel.app.build.value_dials import value_dial
from mektel.app.build.value_help import value_help
from mektel.app.build.value_tip import ValueTip
from mektel.app.theme import GAP_2
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import ChoiceDial, Dial, TextDial
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.gradient import GradientBar
from mektel.app.widgets.ground import Ground
from mektel.app.widgets.number_dials import NumberDial, NumbersDial
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit import Measure

EXTENT = Measure("px", 4, 2000)
PLACE_ON_LINE = Measure("%", -2, 3, 0.01, 3)
WIDE = {"Fill", "Text", "Outline", "Paint", "Line"}
SAYS = [(False, "the control’s text"), (True, "a text of its own")]
WITHIN = [(False, "the control, padded"), (True, "a box of its own")]
LINES = [(False, "by direction"), (True, "between ends")]
OWN = [(False, "the control’s"), (True, "its own")]
CHOICES = {"=says": ("Text", SAYS), "=box": ("Area", WITHIN), "=line": ("Runs", LINES),
           "=own": ("Outline", OWN)}
PAGE_WIDTH = 88


class Shape(NamedTuple):
    """What decides which dials a body has: parts of one shape share it, one after the other."""

    kind: str
    page: str
    pages: tuple[str, ...]
    columns: list[Column]
    choices: Any

    @property
    def key(self) -> str:
        return repr(tuple(self))


class CardBody(Ground):
    """``changed`` is sent with a dial's name, its value and whether it is being dragged."""

    changed = Signal(str, object, bool)
    cleared = Signal(object, object)
    renamed = Signal(str)
    page_wanted = Signal(str)
    stop_selected = Signal()

    def __init__(self, shape: Shape, part: Any, bench: Workbench, parent: QWidget) -> None:
        super().__init__("raised", parent)
        self.bench = bench
        self.dials: dict[str, Dial] = {}
        self.pages: dict[str, QPushButton] = {}
        self.gradient: GradientBar | None = None
        self.joins: Joins | None = None
        self.arguments: Arguments | None = None
        self.name: QLineEdit | None = None
        self.differs = DiffersIn(self)
        self.differs.back_to_rest.connect(lambda state: self.cleared.emit(None, state))
        self._steps = self._build(shape, part)

    def _build(self, shape: Shape, part: Any) -> Iterator[None]:
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(GAP_2)
        if len(shape.pages) > 1:
            row.addLayout(self._page_list(shape))
        columns = Ground("raised", self)
        flow = Flow(columns, GAP_2, GAP_2)
        row.addWidget(columns, 1)
        for title, names in shape.columns:
            wide = 6 if title in WIDE and len(names) > 1 else 4
            flow.add(self._column(title, names, part, columns),
                     10 if names[0] in ("=joins", "=arguments") else wide)
            yield
        flow.add(self._last_column(shape.kind, columns), 4)
        yield
        for widget in (self, *self.findChildren(QWidget)):
            widget.ensurePolished()

    def build_step(self) -> bool:
        """Builds a part of it; whether it was the last. The whole takes longer than a frame."""
        return next(self._steps, True) is True

    def build(self) -> None:
        """Builds what is not built yet."""
        for _ in self._steps:
            pass

    @property
    def selected_stop(self) -> int:
        return self.gradient.selected if self.gradient is not None else 0

    def _page_list(self, shape: Shape) -> QVBoxLayout:
        """The card's pages, one under the other at its left."""
        column = QVBoxLayout()
        column.setSpacing(2)
        for page in shape.pages:
            button = QPushButton(page, self)
            button.setObjectName("page")
            button.setCheckable(True)
            button.setChecked(page == shape.page)
            button.setFixedWidth(PAGE_WIDTH)
            button.clicked.connect(lambda _=False, page=page: self.page_wanted.emit(page))
            column.addWidget(button)
            self.pages[page] = button
        column.addStretch(1)
        return column

    def _column(self, title: str, names: list[str], part: Any, parent: QWidget) -> QWidget:
        whole, column = _empty_column(parent)
        column.addWidget(self._heading(title))
        column.addSpacing(4)
        for name in names:
            if name == "=gradient":
                self._add_gradient(column)
            elif name == "=joins":
                self.joins = Joins(self)
                self.joins.changed.connect(
                    lambda value, drag: self.changed.emit("joins", value, drag))
                self.joins.drag_ended.connect(self.bench.end_drag)
                column.addWidget(self.joins)
            elif name == "=arguments":
                self._add_arguments(column)
            else:
                column.addWidget(self._add_dial(name, part))
        labels = [self.dials[name].label for name in names if name in self.dials]
        for label in labels:
            label.take(max(label.needed() for label in labels))
        if self.arguments is None:
            column.addStretch(1)
        return whole

    def _heading(self, text: str) -> QLabel:
        label = PlainLabel(text, self)
        label.setProperty("role", "heading")
        label.setContentsMargins(GAP_2, 0, 0, 0)
        return label

    def _new_dial(self, name: str, part: Any) -> Dial:
        if name == "=text":
            return TextDial("Text", self)
        if name in CHOICES:
            return ChoiceDial(*CHOICES[name], self)
        if name == "=size":
            return NumbersDial("Size", EXTENT, ["width", "height"], self)
        dial = value_dial(name, part, self.bench, self)
        dial.set_help(value_help(getattr(part, "kind", "outline"), name))
        if not name.startswith("="):
            ValueTip(self.bench, dial, name)
        dial.back_to_rest.connect(lambda: self.cleared.emit(name, None))
        return dial

    def _add_dial(self, name: str, part: Any) -> Dial:
        if name.startswith(PREFIX):
            dial = content_dial(name, self.bench, self)
        else:
            dial = self._new_dial(name, part)
            dial.changed.connect(lambda value, drag: self.changed.emit(name, value, drag))
            dial.drag_ended.connect(self.bench.end_drag)
        self._let_drive(name, dial)
        self.dials[name] = dial
        return dial

    def _let_drive(self, name: str, dial: Dial) -> None:
        dial.menu_wanted.connect(
            lambda at: self._offer_drive(name, dial.name, dial.differs, at, dial))

    def _offer_drive(
        self, name: str, title: str, differs: bool, at: QPoint, parent: QWidget
    ) -> None:
        menu = drive_menu(self.bench, name, title, self.selected_stop, differs, parent)
        if not menu.isEmpty():
            menu.popup(at)

    def _add_arguments(self, column: QVBoxLayout) -> None:
        self.arguments = Arguments(self)
        self.arguments.changed.connect(
            lambda value, drag: self.changed.emit("arguments", value, drag))
        self.arguments.drag_ended.connect(self.bench.end_drag)
        self.arguments.menu_wanted.connect(lambda name, at: self._offer_drive(
            f"arguments.{name}", name, False, at, self))
        column.addWidget(self.arguments, 1)

    def _add_gradient(self, column: QVBoxLayout) -> None:
        bar = GradientBar(self)
        bar.changed.connect(lambda stops, drag: self.changed.emit("stops", stops, drag))
        bar.drag_ended.connect(self.bench.end_drag)
        bar.selected_changed.connect(lambda _at: self.stop_selected.emit())
        column.addWidget(bar)
        self.gradient = bar
        colour = ColourDial("Stop", self)
        place = NumberDial("At", PLACE_ON_LINE, self)
        pair = QHBoxLayout()
        pair.setSpacing(0)
        for name, dial, stretch in (("=stop", colour, 7), ("=at", place, 4)):
            dial.changed.connect(
                lambda value, drag, name=name: self.changed.emit(name, value, drag))
            dial.drag_ended.connect(self.bench.end_drag)
            dial.back_to_rest.connect(lambda: self.cleared.emit("stops", None))
            self._let_drive(name, dial)
            pair.addWidget(dial, stretch)
            self.dials[name] = dial
        colour.label.hide()
        place.label.setFixedWidth(18)
        column.addLayout(pair)

    def _last_column(self, kind: str, parent: QWidget) -> QWidget:
        whole, column = _empty_column(parent)
        column.addWidget(self._heading("Differs in"))
        column.addSpacing(4)
        column.addWidget(self.differs)
        column.addStretch(1)
        if kind != "outline":
            self.name = QLineEdit(self)
            self.name.setAccessibleName("Layer name")
            tip(self.name, "The layer’s name")
            self.name.setMaxLength(80)
            self.name.editingFinished.connect(self._rename)
            more = QPushButton("⋯", self)
            more.setObjectName("quiet")
            more.setAccessibleName("More for this layer")
            tip(more, "Move, copy or remove this layer")
            more.clicked.connect(lambda: self._more(more))
            title = PlainLabel("Layer name", self)
            title.setProperty("role", "small")
            title.setContentsMargins(GAP_2, 0, 0, 0)
            foot = QHBoxLayout()
            foot.setContentsMargins(GAP_2, 0, 0, 0)
            foot.addWidget(self.name, 1)
            foot.addWidget(more)
            column.addWidget(title)
            column.addLayout(foot)
        return whole

    def _more(self, button: QPushButton) -> None:
        menu = layer_menu(self.bench, self.bench.part_id, button)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def _rename(self) -> None:
        if self.name is not None and self.name.isModified():
            self.name.setModified(False)
            self.renamed.emit(self.name.text().strip())


def _empty_column(parent: QWidget) -> tuple[QWidget, QVBoxLayout]:
    whole = QWidget(parent)
    column = QVBoxLayout(whole)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    return whole, column
