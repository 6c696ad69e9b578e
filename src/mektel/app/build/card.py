"""The open card: all dials of one layer, in columns, full width."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import ValidationError
from PySide6.QtCore import QPoint
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.arguments import Arguments
from mektel.app.build.card_body import CardBody
from mektel.app.build.content_dials import PREFIX, content_dial, show_content
from mektel.app.build.differs import DiffersIn
from mektel.app.build.drive import drive_menu, driven_words
from mektel.app.build.joins import Joins
from mektel.app.build.layer_menu import layer_menu
from mektel.app.build.names import (
    as_words,
    part_name,
    step_name,
    value_words,
)
from mektel.app.build.pages import Column, pages_of
from mektel.app.build.value_dials import owner_of, value_dial, what_to_embed
from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_4
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import (
    ChoiceDial,
    Dial,
    NumberDial,
    NumbersDial,
    TextDial,
)
from mektel.app.widgets.gradient import GradientBar
from mektel.app.workbench import Workbench
from mektel.core.kit import (
    OUTLINE,
    Area,
    Control,
    Measure,
    OwnOutline,
    Stop,
    measure_of,
)
from mektel.core.kit import edit as edits
from mektel.core.kit.control import Transition, fault_of, with_values
from mektel.core.look.beneath import colour_beneath
from mektel.core.look.label_lines import own_text
from mektel.core.look.paints import free_ends

EXTENT = Measure("px", 4, 2000)
PLACE_ON_LINE = Measure("%", -2, 3, 0.01, 3)
WIDE = {"Fill", "Text", "Outline", "Paint", "Line"}
SAYS = [(False, "the control’s text"), (True, "a text of its own")]
WITHIN = [(False, "the control, padded"), (True, "a box of its own")]
LINES = [(False, "by direction"), (True, "between ends")]
PAGE_WIDTH = 88
MOST_BODIES = 24
OWN = [(False, "the control’s"), (True, "its own")]


class OpenCard(QFrame):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("openCard")
        self.bench = bench
        self.dials: dict[str, Dial] = {}
        self.gradient: GradientBar | None = None
        self.joins: Joins | None = None
        self.arguments: Arguments | None = None
        self.pages: dict[str, QPushButton] = {}
        self._page: dict[str, str] = {}
        self._built_for = ""
        # Bodies that were built, the last one used last.
        self._bodies: dict[str, CardBody] = {}
        self._shows: tuple[str, str] = ("", "")
        self._outer = QHBoxLayout(self)
        self._outer.setContentsMargins(GAP_4 - 8, GAP_2, GAP_4, GAP_2)
        self._body: QWidget | None = None
        self._differs: DiffersIn | None = None
        self._name: QLineEdit | None = None
        self.setFixedHeight(184)

    # What is selected

    def _part(self) -> Any:
        """The selected part as it shows: formulas and links worked out."""
        control = self.bench.settled_control
        assert control is not None
        return control.part_in(self.bench.part_id, {self.bench.state})

    def refresh(self) -> None:
        control = self.bench.control
        if control is None:
            return
        part = self._part()
        kind = "outline" if self.bench.part_id == OUTLINE else part.kind
        pages = pages_of(part, kind)
        title = self._page.get(kind, pages[0][0])
        columns = dict(pages).get(title) or pages[0][1]
        # The same dials serve every layer of a kind: building them takes longer than a frame.
        shape = repr((kind, [page for page, _ in pages], columns,
                      what_to_embed(self.bench.kit, control, part) if kind == "look" else None))
        shows = (control.id, self.bench.part_id)
        if shape != self._built_for:
            self._built_for = shape
            self._turn_over(shape, lambda: self._build(
                kind, part, [page for page, _ in pages], columns))
        elif shows != self._shows and self.gradient is not None:
            self.gradient.selected = 0
        self._shows = shows
        self._show(control, part)

    # Building

    def _turn_over(self, shape: str, build: Callable[[], None]) -> None:
        """Shows the body of a shape, built when it is first wanted: that takes longer than a frame.
        """
        focus = self.focusWidget()
        focused = focus.accessibleName() if focus is not None and self._body else ""
        if self._body is not None:
            self._body.hide()
        body = self._bodies.pop(shape, None)
        if body is None:
            build()
            assert self._body is not None and self._differs is not None
            body = CardBody(self._body, self.dials, self.pages, self.gradient, self.joins,
                         self.arguments, self._differs, self._name)
        self._bodies[shape] = body
        (self._body, self.dials, self.pages, self.gradient, self.joins, self.arguments,
         self._differs, self._name) = vars(body).values()
        self._body.show()
        while len(self._bodies) > MOST_BODIES:
            self._bodies.pop(next(iter(self._bodies))).widget.deleteLater()
        if focused:
            for child in self._body.findChildren(QWidget):
                if child.accessibleName() == focused:
                    child.setFocus()
                    break

    def _build(self, kind: str, part: Any, pages: list[str], columns: list[Column]) -> None:
        self.dials, self.pages = {}, {}
        self.gradient = self.joins = self.arguments = None
        self._body = QWidget(self)
        self._outer.addWidget(self._body)
        row = QHBoxLayout(self._body)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(GAP_4)
        if len(pages) > 1:
            row.addLayout(self._page_list(kind, pages, columns))
        for title, names in columns:
            wide = 6 if title in WIDE and len(names) > 1 else 4
            row.addLayout(self._column(title, names, part),
                          10 if names[0] in ("=joins", "=arguments") else wide)
        self._differs = differs = DiffersIn(self)
        differs.back_to_rest.connect(lambda state: self._clear(None, state))
        row.addLayout(self._last_column(kind, differs), 4)

    def _page_list(self, kind: str, pages: list[str], columns: list[Column]) -> QVBoxLayout:
        """The card's pages, one under the other at its left."""
        part = self._part()
        now = next(page for page, shown in pages_of(part, kind) if shown == columns)
        column = QVBoxLayout()
        column.setSpacing(2)
        for page in pages:
            button = QPushButton(page, self)
            button.setObjectName("page")
            button.setCheckable(True)
            button.setChecked(page == now)
            button.setFixedWidth(PAGE_WIDTH)
            button.clicked.connect(lambda _=False, page=page: self.turn_to(kind, page))
            column.addWidget(button)
            self.pages[page] = button
        column.addStretch(1)
        return column

    def turn_to(self, kind: str, page: str) -> None:
        self._page[kind] = page
        self.refresh()
        if page in self.pages:
            self.pages[page].setFocus()

    def _column(self, title: str, names: list[str], part: Any) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self._heading(title))
        column.addSpacing(4)
        for name in names:
            if name == "=gradient":
                self._add_gradient(column)
            elif name == "=joins":
                self.joins = Joins(self)
                self.joins.changed.connect(lambda value, drag: self._set("joins", value, drag))
                self.joins.drag_ended.connect(self.bench.end_drag)
                column.addWidget(self.joins)
            elif name == "=arguments":
                self._add_arguments(column)
            else:
                column.addWidget(self._add_dial(name, part))
        if self.arguments is None:
            column.addStretch(1)
        return column

    def _heading(self, text: str) -> QLabel:
        label = QLabel(text, self)
        label.setProperty("role", "heading")
        label.setContentsMargins(GAP_2, 0, 0, 0)
        return label

    def _add_dial(self, name: str, part: Any) -> Dial:
        if name == "=text":
            dial: Dial = TextDial("Text", self)
            dial.changed.connect(self._set_text)
            dial.drag_ended.connect(self.bench.end_drag)
        elif name == "=says":
            dial = ChoiceDial("Says", SAYS, self)
            dial.changed.connect(lambda own, _drag: self._set(
                "text", self.bench.control.text if own and self.bench.control else None, False))
        elif name == "=box":
            dial = ChoiceDial("Stands in", WITHIN, self)
            dial.changed.connect(lambda own, _drag: self._set(
                "box", Area() if own else None, False))
        elif name == "=size":
            dial = NumbersDial("Size", EXTENT, ["width", "height"], self)
            self._wire_field(dial, "size", "size")
        elif name == "=transition":
            dial = NumberDial("Change in", measure_of(Transition, "seconds"), self)
            dial.setToolTip("How long a change of state takes, where the target has that")
            dial.changed.connect(self._set_transition)
            dial.drag_ended.connect(self.bench.end_drag)
        elif name == "=line":
            dial = ChoiceDial("Line", LINES, self)
            dial.changed.connect(lambda free, _drag: self._set("ends", self._ends(free), False))
        elif name.startswith(PREFIX):
            dial = content_dial(name, self.bench, self)
        elif name == "=own":
            dial = ChoiceDial("Outline", OWN, self)
            dial.changed.connect(lambda own, _drag: self._set(
                "outline", OwnOutline() if own else None, False))
        else:
            dial = value_dial(name, part, self.bench, self)
            dial.changed.connect(lambda value, drag, name=name: self._set(name, value, drag))
            dial.drag_ended.connect(self.bench.end_drag)
            dial.back_to_rest.connect(lambda name=name: self._clear(name))
        self._let_drive(name, dial)
        self.dials[name] = dial
        return dial

    def _let_drive(self, name: str, dial: Dial) -> None:
        dial.menu_wanted.connect(
            lambda at: self._offer_drive(name, dial.name, dial.differs, at, dial))

    def _offer_drive(
        self, name: str, title: str, differs: bool, at: QPoint, parent: QWidget
    ) -> None:
        stop = self.gradient.selected if self.gradient is not None else 0
        menu = drive_menu(self.bench, name, title, stop, differs, parent)
        if not menu.isEmpty():
            menu.popup(at)

    def _add_arguments(self, column: QVBoxLayout) -> None:
        self.arguments = Arguments(self)
        self.arguments.changed.connect(lambda value, drag: self._set("arguments", value, drag))
        self.arguments.drag_ended.connect(self.bench.end_drag)
        self.arguments.menu_wanted.connect(lambda name, at: self._offer_drive(
            f"arguments.{name}", name, False, at, self))
        column.addWidget(self.arguments, 1)

    def _add_gradient(self, column: QVBoxLayout) -> None:
        bar = GradientBar(self)
        bar.changed.connect(lambda stops, drag: self._set("stops", stops, drag))
        bar.drag_ended.connect(self.bench.end_drag)
        bar.selected_changed.connect(lambda _at: self.refresh())
        column.addWidget(bar)
        self.gradient = bar
        colour = ColourDial("Stop", self)
        place = NumberDial("At", PLACE_ON_LINE, self)
        colour.changed.connect(lambda value, drag: self._set_stop(drag, colour=value))
        place.changed.connect(lambda value, drag: self._set_stop(drag, position=value))
        for dial in (colour, place):
            dial.drag_ended.connect(self.bench.end_drag)
            dial.back_to_rest.connect(lambda: self._clear("stops"))
        pair = QHBoxLayout()
        pair.setSpacing(0)
        colour.label.hide()
        place.label.setFixedWidth(18)
        pair.addWidget(colour, 7)
        pair.addWidget(place, 4)
        column.addLayout(pair)
        self._let_drive("=stop", colour)
        self._let_drive("=at", place)
        self.dials["=stop"], self.dials["=at"] = colour, place

    def _wire_field(self, dial: Dial, field: str, step: str) -> None:
        def take(value: Any, drag: bool) -> None:
            control_id = self.bench.control_id
            self.bench.edit(
                step, lambda kit: edits.set_field(kit, control_id, field, value),
                (control_id, field) if drag else None,
            )

        dial.changed.connect(take)
        dial.drag_ended.connect(self.bench.end_drag)

    def _last_column(self, kind: str, differs: DiffersIn) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self._heading("Differs in"))
        column.addSpacing(4)
        column.addWidget(differs)
        column.addStretch(1)
        self._name = None
        if kind != "outline":
            self._name = QLineEdit(self)
            self._name.setAccessibleName("Layer name")
            self._name.setToolTip("The layer’s name")
            self._name.setMaxLength(80)
            self._name.editingFinished.connect(self._rename)
            more = QPushButton("⋯", self)
            more.setObjectName("quiet")
            more.setAccessibleName("More for this layer")
            more.setToolTip("Move, copy or remove this layer")
            more.clicked.connect(lambda: self._more(more))
            foot = QHBoxLayout()
            foot.setContentsMargins(GAP_2, 0, 0, 0)
            foot.addWidget(self._name, 1)
            foot.addWidget(more)
            column.addLayout(foot)
        return column

    def _more(self, button: QPushButton) -> None:
        menu = layer_menu(self.bench, self.bench.part_id, button)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    # Showing

    def _show(self, control: Control, part: Any) -> None:
        changes = control.changes(self.bench.state).get(self.bench.part_id, {})
        rest = control.part(self.bench.part_id)
        for name, dial in self.dials.items():
            if name == "=text":
                dial.show_value(own_text(part, control.text))  # type: ignore[attr-defined]
            elif name in ("=says", "=box"):
                stored = {"=says": "text", "=box": "box"}[name]
                dial.show_value(getattr(part, stored) is not None)  # type: ignore[attr-defined]
                dial.set_differs(stored in changes, as_words(stored, getattr(rest, stored)))
            elif name == "=size":
                dial.show_value(control.size)  # type: ignore[attr-defined]
            elif name == "=transition":
                seconds = control.transition.seconds if control.transition else 0.0
                dial.show_value(seconds)  # type: ignore[attr-defined]
            elif name == "=line":
                dial.show_value(part.ends is not None)  # type: ignore[attr-defined]
            elif name.startswith(PREFIX):
                show_content(dial, name, control)
            elif name == "=own":
                dial.show_value(part.outline is not None)  # type: ignore[attr-defined]
                dial.set_differs("outline" in changes, as_words("outline", rest.outline))
            elif name in ("=stop", "=at"):
                assert self.gradient is not None
                self.gradient.show_value(part.stops, self.bench.kit)
                stop = part.stops[self.gradient.selected]
                if isinstance(dial, ColourDial):
                    dial.show_value(stop.colour, self.bench.kit, self._beside())
                else:
                    dial.show_value(stop.position)  # type: ignore[attr-defined]
                dial.set_differs("stops" in changes, as_words("stops", rest.stops))
            else:
                owner, inner = owner_of(part, name)
                value = getattr(owner, inner)
                if inner == "at":
                    laid = control.content is not None and self.bench.part_id in (
                        control.content.items)
                    dial.setEnabled(not laid)
                    dial.setToolTip("The content says where it stands; Place moves it" if laid
                                    else "")
                if inner == "radii_y" and value is None:
                    value = owner.radii
                if isinstance(dial, ColourDial):
                    dial.show_value(value, self.bench.kit, self._beside())
                else:
                    dial.show_value(value)  # type: ignore[attr-defined]
                stored = name.split(".")[0]
                origin = control.origin(self.bench.part_id, stored, {self.bench.state})
                dial.set_origin("" if origin in ("rest", self.bench.state) else origin)
                dial.set_differs(stored in changes, as_words(stored, getattr(rest, stored)))
            dial.set_driven(driven_words(
                control, self.bench.state, self.bench.part_id, name,
                self.gradient.selected if self.gradient is not None else 0))
            dial.set_mixed(self.bench.is_mixed(self.bench.part_id, name.split(".")[0]))
        if self.joins is not None:
            self.joins.show_value(part.joins)
        if self.arguments is not None:
            self.arguments.show_value(self.bench.drawn, part)
        if self._name is not None and not self._name.isModified():
            self._name.setText(part_name(control, self.bench.part_id))
        assert self._differs is not None
        self._differs.show_part(
            control, self.bench.part_id, self.bench.shown_states()[1:])

    # Editing

    def _set(self, name: str, value: Any, drag: bool) -> None:
        control = self.bench.control
        assert control is not None
        if "." in name:
            # One value of an outline of its own: the outline is changed as a whole.
            owner, inner = name.split(".", 1)
            try:
                value = with_values(getattr(self._part(), owner), {inner: value})
            except ValidationError as error:
                why = fault_of(error)[1]
                self.bench.noticed.emit(Notice(f"{value_words(inner)}: {why}", bad=True))
                self.refresh()
                return
            name = owner
        step = step_name(control, self.bench.part_id, name)
        if not self.bench.set_value(self.bench.part_id, name, value, step, drag):
            self.refresh()

    def _set_text(self, text: str, drag: bool) -> None:
        """The control's text, or that of a label with one of its own."""
        control = self.bench.control
        if self._part().text is not None:
            self._set("text", text, drag)
        elif control is not None:
            self.bench.edit("label text",
                            lambda kit: edits.set_field(kit, control.id, "text", text),
                            (control.id, "text") if drag else None)

    def _set_transition(self, seconds: float, drag: bool) -> None:
        control = self.bench.control
        assert control is not None
        now = control.transition or Transition()
        wanted = now.model_copy(update={"seconds": seconds}) if seconds > 0 else None
        self.bench.edit(
            "change of state", lambda kit: edits.set_field(kit, control.id, "transition", wanted),
            (control.id, "transition") if drag else None)

    def _ends(self, free: bool) -> tuple[float, ...] | None:
        """The gradient's line as it lies now, when its ends are set free."""
        if not free:
            return None
        control = self.bench.control
        assert control is not None
        return free_ends(self._part().angle, *control.size)

    def _beside(self) -> str:
        """The colour that the selected layer's is judged against: what a label stands on."""
        control = self.bench.control
        assert control is not None
        return colour_beneath(self.bench.kit, control, self.bench.state, self.bench.part_id)

    def _set_stop(self, drag: bool, **values: Any) -> None:
        assert self.gradient is not None
        stops = list(self._part().stops)
        at = self.gradient.selected
        stops[at] = Stop(**{**dict(stops[at]), **values})
        ordered = sorted(stops, key=lambda stop: stop.position)
        self.gradient.selected = ordered.index(stops[at])
        self._set("stops", tuple(ordered), drag)

    def _clear(self, name: str | None, state: str | None = None) -> None:
        control = self.bench.control
        assert control is not None
        part_id, condition = self.bench.part_id, state or self.bench.state
        self.bench.edit(
            f"{part_name(control, part_id).lower()} back to rest in {condition}",
            lambda kit: edits.clear_changes(kit, control.id, condition, part_id, name),
        )

    def _rename(self) -> None:
        control = self.bench.control
        if control is None or self._name is None or not self._name.isModified():
            return
        self._name.setModified(False)
        title, layer_id = self._name.text().strip(), self.bench.part_id
        if title and title != control.layer(layer_id).name:
            self.bench.edit(
                f"rename {control.layer(layer_id).name.lower()}",
                lambda kit: edits.rename_layer(kit, control.id, layer_id, title),
            )

