"""The open card: all dials of one layer, in columns, full width."""

from __future__ import annotations

from functools import partial
from typing import Any

from pydantic import ValidationError
from PySide6.QtCore import QCoreApplication, QEvent, QObject, Qt, QTimer
from PySide6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget
from shiboken6 import isValid

from mektel.app.build.card_body import CardBody, Shape
from mektel.app.build.content_dials import PREFIX, show_content
from mektel.app.build.drive import driven_text
from mektel.app.build.names import as_text, part_name, step_name, value_title
from mektel.app.build.pages import pages_of
from mektel.app.build.value_dials import owner_of, what_to_embed
from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_4
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import Dial, TextDial
from mektel.app.widgets.ground import Ground
from mektel.app.widgets.plain import tip
from mektel.app.widgets.tab_order import follow
from mektel.app.workbench import Workbench
from mektel.core.kit import OUTLINE, Area, Control, OwnOutline, Stop
from mektel.core.kit import edit as edits
from mektel.core.kit.control import fault_of, with_values
from mektel.core.look import settled
from mektel.core.look.beneath import colour_beneath
from mektel.core.look.label_lines import own_text
from mektel.core.look.paints import free_ends

MOST_BODIES = 32
HEIGHT, MOST_OF_WINDOW = 184, 0.36
# Px that a row of dials takes at most.
ROW = 40
# From this width on all pages stand side by side.
BESIDE = 1280


class OpenCard(QFrame):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("openCard")
        self.bench = bench
        self._page: dict[str, str] = {}
        # Bodies that were built, by the key of their shape, the one used last at the end.
        self._bodies: dict[str, CardBody] = {}
        self._body: CardBody | None = None
        self._shown_key = ""
        self._shown_part: tuple[str, str] = ("", "")
        self._beside_each_other = False
        self._prepared_for: set[tuple[str, ...]] = set()
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_4 - 8, GAP_2, GAP_4, GAP_2)
        # Where the window is small the columns go on in another row, and that may be out of sight.
        self._scroll = QScrollArea(self)
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = Ground("raised", self._scroll)
        self._outer = QVBoxLayout(inside)
        self._outer.setContentsMargins(0, 0, 0, 0)
        self._scroll.setWidget(inside)
        column.addWidget(self._scroll)
        self._fitted = QTimer(self, singleShot=True, interval=0)
        self._fitted.timeout.connect(self._lay_anew)
        self.setFixedHeight(HEIGHT)

    @property
    def body(self) -> CardBody:
        """What it shows now."""
        assert self._body is not None
        return self._body

    @property
    def dials(self) -> dict[str, Dial]:
        return self.body.dials

    # What is selected

    def _part(self) -> Any:
        """The selected part as it shows: formulas and links worked out."""
        control = self.bench.settled_control
        assert control is not None
        return control.part_in(self.bench.part_id, {self.bench.state})

    def _shape_of(self, control: Control, part: Any) -> Shape:
        kind = getattr(part, "kind", OUTLINE)
        pages = pages_of(part, kind)
        columns = dict(pages)
        choices = what_to_embed(self.bench.kit, control, part) if kind == "look" else None
        if self._beside_each_other:
            every = [column for _, page in pages for column in page]
            return Shape(kind, "", (), every, choices)
        page = self._page.get(kind, "")
        page = page if page in columns else pages[0][0]
        return Shape(kind, page, tuple(columns), columns[page], choices)

    def refresh(self) -> None:
        control = self.bench.control
        if control is None:
            return
        part = self._part()
        shape = self._shape_of(control, part)
        shown_part = (control.id, self.bench.part_id)
        if shape.key != self._shown_key:
            self._turn_over(shape, part)
        elif shown_part != self._shown_part and self.body.gradient is not None:
            self.body.gradient.selected = 0
        self._shown_part = shown_part
        self._show(control, part)
        if len(self._prepared_for) > 2000:
            self._prepared_for.clear()
        for other in (control, *self.bench.kit.controls):
            kinds = (other.id, *(layer.kind for layer in other.layers))
            if kinds not in self._prepared_for:
                self._prepared_for.add(kinds)
                self.bench.spare_time.ask(partial(self._prepare_bodies, other.id))

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        if self._beside_each_other != (self.width() >= BESIDE):
            self._beside_each_other = not self._beside_each_other
            self._prepared_for.clear()
            self.refresh()
        self.fit()
        self._fitted.start()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Its content needs more room, or less."""
        if event.type() == QEvent.Type.LayoutRequest and watched is self._body:
            self._fitted.start()
        return super().eventFilter(watched, event)

    def _lay_anew(self) -> None:
        """A height that is set while the card is resized can leave its layout as it was."""
        self.fit()
        layout = self.layout()
        if layout is not None and layout.geometry().height() > self.height():
            layout.invalidate()
            layout.activate()

    def fit(self) -> None:
        """As high as its columns need, as far as the window has room for that."""
        if self._body is None:
            return
        # Of the width that there is without a scroll bar.
        sides = self.contentsMargins().left() + self.contentsMargins().right()
        layout = self.layout()
        if layout is not None:
            sides += layout.contentsMargins().left() + layout.contentsMargins().right()
        around = 2 * GAP_2 + 2
        needed = self._body.heightForWidth(self.width() - sides) + around
        most = max(HEIGHT, round(MOST_OF_WINDOW * self.window().height()))
        # Said here: a bar that comes and goes by itself takes width and may never go.
        policy = Qt.ScrollBarPolicy
        self._scroll.setVerticalScrollBarPolicy(
            policy.ScrollBarAlwaysOn if needed > most else policy.ScrollBarAlwaysOff)
        if needed > most:
            # It scrolls: no row is cut at the end.
            body = self._body
            ends = (dial.mapTo(body, dial.rect().bottomLeft()).y() + 1
                    for dial in self.dials.values() if dial.isVisibleTo(body))
            most = max((end + around for end in ends if most - ROW < end + around <= most),
                       default=most)
        self.setFixedHeight(min(most, max(HEIGHT, needed)))

    # Bodies

    def _turn_over(self, shape: Shape, part: Any) -> None:
        """Shows the body of a shape."""
        focus = self.focusWidget()
        focused = focus.accessibleName() if focus is not None and self._body else ""
        if self._body is not None:
            self._body.hide()
        self._shown_key = shape.key
        known = self._bodies.pop(shape.key, None)
        self._body = body = known or self._new_body(shape, part)
        body.build()
        if known is None:
            follow(self, (body,))
        self._keep(shape.key, body)
        body.show()
        self.fit()
        if focused:
            for child in body.findChildren(QWidget):
                if child.accessibleName() == focused:
                    child.setFocus()
                    break

    def _keep(self, key: str, body: CardBody) -> None:
        self._bodies[key] = body
        while len(self._bodies) > MOST_BODIES:
            self._bodies.pop(next(key for key in self._bodies if key != self._shown_key)
                             ).deleteLater()

    def drop_spare_bodies(self) -> None:
        """Those that are not shown are deleted at once; they are built again in spare time."""
        for key in [key for key in self._bodies if key != self._shown_key]:
            body = self._bodies.pop(key)
            body.deleteLater()
            QCoreApplication.sendPostedEvents(body, QEvent.Type.DeferredDelete.value)
        self._prepared_for.clear()

    def _new_body(self, shape: Shape, part: Any) -> CardBody:
        body = CardBody(shape, part, self.bench, self)
        body.hide()
        body.installEventFilter(self)
        self._outer.addWidget(body)
        body.changed.connect(self._set_dial)
        body.cleared.connect(self._clear)
        body.renamed.connect(self._rename)
        body.page_wanted.connect(lambda page: self.turn_to(shape.kind, page))
        body.stop_selected.connect(self.refresh)
        return body

    def _prepare_bodies(self, control_id: str) -> None:
        """Builds what a control's layers will need: building it takes longer than a frame."""
        kit = self.bench.drawn
        control = next((other for other in kit.controls if other.id == control_id), None)
        if control is None or not isValid(self):
            return
        control = settled(kit, control)
        for part in (control.outline, *control.layers):
            shape = self._shape_of(control, part)
            if shape.key not in self._bodies:
                self.bench.spare_time.ask(partial(self._prepare, shape, part))

    def _prepare(self, shape: Shape, part: Any) -> None:
        if (isValid(self) and self.bench.control is not None and shape.key not in self._bodies
                and len(self._bodies) < MOST_BODIES):
            self._keep(shape.key, self._new_body(shape, part))
            self._build_on(shape.key)

    def _build_on(self, key: str) -> None:
        body = self._bodies.get(key) if isValid(self) else None
        if body is not None and not body.build_step():
            self.bench.spare_time.ask(partial(self._build_on, key), first=True)

    def turn_to(self, kind: str, page: str) -> None:
        self._page[kind] = page
        self.refresh()
        if page in self.body.pages:
            self.body.pages[page].setFocus()

    def edit_value(self, kind: str, page: str, name: str) -> None:
        """Turns to the page with a dial and puts the keyboard in it."""
        self.turn_to(kind, page)
        dial = self.dials.get(name)
        if dial is not None:
            editors = [child for child in dial.findChildren(QWidget)
                       if child.focusPolicy() != Qt.FocusPolicy.NoFocus]
            (editors or [dial])[0].setFocus()

    def edit_text(self) -> None:
        """All of the selected label's text is selected, to be typed anew."""
        self.edit_value("label", "Text", "=text")
        dial = self.dials.get("=text")
        if isinstance(dial, TextDial):
            dial.entry.selectAll()

    # Showing

    def _show(self, control: Control, part: Any) -> None:
        changes = control.changes(self.bench.state).get(self.bench.part_id, {})
        rest = control.part(self.bench.part_id)
        body = self.body
        for name, dial in body.dials.items():
            if name == "=text":
                dial.show_value(own_text(part, control.text))  # type: ignore[attr-defined]
            elif name in ("=says", "=box"):
                stored = {"=says": "text", "=box": "box"}[name]
                dial.show_value(getattr(part, stored) is not None)  # type: ignore[attr-defined]
                dial.set_differs(stored in changes, as_text(stored, getattr(rest, stored)))
            elif name == "=size":
                dial.show_value(control.size)  # type: ignore[attr-defined]
            elif name == "=line":
                dial.show_value(part.ends is not None)  # type: ignore[attr-defined]
            elif name.startswith(PREFIX):
                show_content(dial, name, control)
            elif name == "=own":
                dial.show_value(part.outline is not None)  # type: ignore[attr-defined]
                dial.set_differs("outline" in changes, as_text("outline", rest.outline))
            elif name in ("=stop", "=at"):
                assert body.gradient is not None
                body.gradient.show_value(part.stops, self.bench.kit)
                stop = part.stops[body.gradient.selected]
                if isinstance(dial, ColourDial):
                    dial.show_value(stop.colour, self.bench.kit, self._beside())
                else:
                    dial.show_value(stop.position)  # type: ignore[attr-defined]
                dial.set_differs("stops" in changes, as_text("stops", rest.stops))
            else:
                owner, inner = owner_of(part, name)
                value = getattr(owner, inner)
                if inner == "position":
                    laid = control.content is not None and self.bench.part_id in (
                        control.content.items)
                    dial.setEnabled(not laid)
                    tip(dial, "The content says where it stands; Place moves it" if laid
                                    else "")
                if inner == "vertical_radii" and value is None:
                    value = owner.corners
                if isinstance(dial, ColourDial):
                    dial.show_value(value, self.bench.kit, self._beside())
                else:
                    dial.show_value(value)  # type: ignore[attr-defined]
                stored = name.split(".")[0]
                origin = control.origin(self.bench.part_id, stored, {self.bench.state})
                dial.set_origin("" if origin in ("rest", self.bench.state) else origin)
                dial.set_differs(stored in changes, as_text(stored, getattr(rest, stored)))
            dial.set_driven(driven_text(
                control, self.bench.state, self.bench.part_id, name,
                body.selected_stop))
            dial.set_mixed(self.bench.is_mixed(self.bench.part_id, name.split(".")[0]))
        if body.joins is not None:
            body.joins.show_value(part.joins)
        if body.arguments is not None:
            body.arguments.show_value(self.bench.drawn, part)
        if body.name is not None and not body.name.isModified():
            body.name.setText(part_name(control, self.bench.part_id))
        body.differs.show_part(
            control, self.bench.part_id, self.bench.shown_states()[1:])

    # Editing

    def _set_dial(self, name: str, value: Any, drag: bool) -> None:
        """Takes what a dial was set to; dials of several values or of the control have a ``=``."""
        control = self.bench.control
        assert control is not None
        if name == "=text":
            self._set_text(value, drag)
        elif name == "=size":
            self.bench.edit("size", lambda kit: edits.set_field(kit, control.id, "size", value),
                            (control.id, "size") if drag else None)
        elif name == "=stop":
            self._set_stop(drag, colour=value)
        elif name == "=at":
            self._set_stop(drag, position=value)
        elif name == "=says":
            self._set("text", control.text if value else None, False)
        elif name == "=box":
            self._set("box", Area() if value else None, False)
        elif name == "=own":
            self._set("outline", OwnOutline() if value else None, False)
        elif name == "=line":
            self._set("ends", self._ends(value), False)
        else:
            self._set(name, value, drag)

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
                self.bench.noticed.emit(Notice(f"{value_title(inner)}: {why}", bad=True))
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

    def _ends(self, free: bool) -> tuple[float, ...] | None:
        """The gradient's line as it lies now, when its ends are set free."""
        if not free:
            return None
        control = self.bench.control
        assert control is not None
        return free_ends(self._part().direction, *control.size)

    def _beside(self) -> str:
        """The colour that the selected layer's is judged against: what a label stands on."""
        control = self.bench.control
        assert control is not None
        return colour_beneath(self.bench.kit, control, self.bench.state, self.bench.part_id)

    def _set_stop(self, drag: bool, **values: Any) -> None:
        gradient = self.body.gradient
        assert gradient is not None
        stops = list(self._part().stops)
        at = gradient.selected
        stops[at] = Stop(**{**dict(stops[at]), **values})
        ordered = sorted(stops, key=lambda stop: stop.position)
        gradient.selected = ordered.index(stops[at])
        self._set("stops", tuple(ordered), drag)

    def _clear(self, name: str | None, state: str | None = None) -> None:
        control = self.bench.control
        assert control is not None
        part_id, condition = self.bench.part_id, state or self.bench.state
        self.bench.edit(
            f"{part_name(control, part_id).lower()} back to rest in {condition}",
            lambda kit: edits.clear_changes(kit, control.id, condition, part_id, name),
        )

    def _rename(self, title: str) -> None:
        control, layer_id = self.bench.control, self.bench.part_id
        if control is not None and title and title != control.layer(layer_id).name:
            self.bench.edit(
                f"rename {control.layer(layer_id).name.lower()}",
                lambda kit: edits.rename_layer(kit, control.id, layer_id, title),
            )
