"""What is selected and how it is looked at: controls, state, part; backdrop, density, scheme."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from mektel.app.document import Document
from mektel.app.widgets.backdrop import SAIL
from mektel.app.widgets.field import finish_typing
from mektel.core.kit import OUTLINE, REST, Control, Kit, palette_edits, shown_states
from mektel.core.look import settled


def like_part(first: Control | None, control: Control, part_id: str) -> str | None:
    """The part of a control that is like one of the first selected's: by id, or by its kind."""
    if first is None or part_id == OUTLINE or first.id == control.id:
        return part_id
    ids = {layer.id: layer for layer in control.layers}
    kind = first.layer(part_id).kind
    if part_id in ids and ids[part_id].kind == kind:
        return part_id
    return next((layer.id for layer in control.layers if layer.kind == kind), None)


class Selection(QObject):
    selected_changed = Signal()
    view_changed = Signal()

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self.control_id = ""
        self.state = REST
        self.part_id = OUTLINE
        # Controls that are selected beside the first: a value set goes into all of them.
        self.also_selected: frozenset[str] = frozenset()
        # The palette's scheme that is looked at; empty for the first.
        self.scheme = ""
        # Combinations of states that were put on the wall, by control.
        self.more_states: dict[str, tuple[str, ...]] = {}
        self.backdrop = SAIL
        self.density = 1
        # The target that Ship shows, which names the signals in the try pad.
        self.target = "qtwidgets"
        # The one layer that the wall shows alone, or none.
        self.solo = ""
        # The state whose tile is open large, or none.
        self.loupe = ""
        self._last_control: tuple[Kit | None, str, Control | None] = (None, "", None)
        self._in_scheme: tuple[Kit | None, str, Kit] = (None, "", Kit())

    @property
    def control(self) -> Control | None:
        kit, control_id = self._document.kit, self.control_id
        if self._last_control[0] is not kit or self._last_control[1] != control_id:
            control = next((control for control in kit.controls if control.id == control_id), None)
            self._last_control = (kit, control_id, control)
        return self._last_control[2]

    @property
    def drawn(self) -> Kit:
        """The kit in the palette's scheme that is looked at."""
        kit = self._document.kit
        if not self.scheme or self.scheme not in kit.schemes:
            return kit
        if self._in_scheme[0] is not kit or self._in_scheme[1] != self.scheme:
            self._in_scheme = (kit, self.scheme, palette_edits.in_scheme(kit, self.scheme))
        return self._in_scheme[2]

    @property
    def settled_control(self) -> Control | None:
        """The selected control as it shows: links and formulas worked out."""
        control = self.control
        return None if control is None else settled(self.drawn, control)

    @property
    def shown_size(self) -> tuple[float, float]:
        """Width and height in px that the selected control shows itself at; larger than its own
        where it fits its content.
        """
        control = self.settled_control
        return (0.0, 0.0) if control is None else (float(control.size[0]), float(control.size[1]))

    def selected_controls(self) -> list[Control]:
        """Every control that an edit goes into, the first selected one first."""
        control = self.control
        if control is None:
            return []
        also = [other for other in self._document.kit.controls
                if other.id in self.also_selected and other.id != control.id]
        return [control, *also]

    def is_mixed(self, part_id: str, name: str) -> bool:
        """Whether the selected controls differ in a value."""
        if len(self.selected_controls()) < 2:
            return False
        values = []
        for control in self.selected_controls():
            part = like_part(self.control, control, part_id)
            if part is not None and name in type(control.part(part)).model_fields:
                shown = settled(self.drawn, control).part_in(part, {self.state})
                values.append(getattr(shown, name))
        return any(value != values[0] for value in values)

    def shown_states(self) -> tuple[str, ...]:
        """The states on the wall: what the control can be in, and any that were asked for."""
        control = self.control
        if control is None:
            return shown_states("push")
        usual = shown_states(control.behaviour)
        more = self.more_states.get(control.id, ())
        extra = [state for state in (*control.states, *control.links, *control.formulas, *more)
                 if state != REST and state not in usual]
        return (*usual, *dict.fromkeys(extra))

    def keep(self) -> None:
        """What was selected may be gone after an edit or undo; select what is nearest to it."""
        control, kit = self.control, self._document.kit
        before = (self.control_id, self.part_id)
        if control is None:
            self.control_id = kit.controls[0].id if kit.controls else ""
            self.part_id = OUTLINE
        elif self.part_id != OUTLINE and all(la.id != self.part_id for la in control.layers):
            self.part_id = control.layers[-1].id if control.layers else OUTLINE
        if (self.control_id, self.part_id) != before:
            self.selected_changed.emit()

    def select(
        self, control_id: str | None = None, state: str | None = None, part_id: str | None = None
    ) -> None:
        finish_typing()
        self._document.end_drag()
        if control_id is not None and control_id != self.control_id:
            self.control_id = control_id
            self.also_selected = frozenset()
            self.state = REST
            control = self.control
            fills = [la.id for la in control.layers if la.kind == "fill"] if control else []
            self.part_id = fills[0] if fills else OUTLINE
            self.solo = ""
        if state is not None:
            self.state = state
        if part_id is not None:
            self.part_id = part_id
        self.selected_changed.emit()

    def select_also(self, control_id: str) -> None:
        """Takes one more control into hand, or lets it go again."""
        if control_id == self.control_id:
            return
        self._document.end_drag()
        self.also_selected = self.also_selected ^ {control_id}
        self.selected_changed.emit()

    def view(
        self, backdrop: str | None = None, density: int | None = None, solo: str | None = None,
        loupe: str | None = None, scheme: str | None = None, target: str | None = None,
    ) -> None:
        self.target = target or self.target
        self.scheme = self.scheme if scheme is None else scheme
        self.backdrop = backdrop or self.backdrop
        self.density = density or self.density
        self.solo = self.solo if solo is None else solo
        self.loupe = self.loupe if loupe is None else loupe
        self.view_changed.emit()
