"""What the window works on: the kit with its history, its file, and what is held."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from PySide6.QtCore import QObject, Signal

from mektel.app.background import Background
from mektel.app.kit_on_disk import KitOnDisk
from mektel.app.looks import Looks
from mektel.app.pictures import PictureStore
from mektel.app.recovery import Leftover, Recovery
from mektel.app.settings import Settings
from mektel.app.widgets.backdrop import SAIL
from mektel.core.errors import MektelError
from mektel.core.kit import OUTLINE, REST, Control, History, Kit, palette_edits, shown_states
from mektel.core.kit import edit as edits
from mektel.core.kit.assets import pixels_of
from mektel.core.kit.checking import checked
from mektel.core.kit.control import fault_of
from mektel.core.kit.moving import add_asset, layer_to_text, paste_layer
from mektel.core.look import settled
from mektel.core.slices import picture_insets
from mektel.formats.css import control_from_css, read_css
from mektel.formats.kitfile import read_kit, read_limited, write_kit
from mektel.formats.svg import read_svg
from mektel.samples import DEMO, starter_files

LARGEST_PICTURE = 16 * 1024 * 1024


def like_part(first: Control | None, control: Control, part_id: str) -> str | None:
    """The part of a control that is like a part of the first held one: by id, or by its kind."""
    if first is None or part_id == OUTLINE or first.id == control.id:
        return part_id
    ids = {layer.id: layer for layer in control.layers}
    kind = first.layer(part_id).kind
    if part_id in ids and ids[part_id].kind == kind:
        return part_id
    return next((layer.id for layer in control.layers if layer.kind == kind), None)


@dataclass(frozen=True)
class Notice:
    """Something to tell the user; ``act`` is offered as a button under ``action``, and another
    thing to do under ``other``.
    """

    text: str
    details: tuple[str, ...] = ()
    bad: bool = False
    action: str = ""
    act: Callable[[], object] | None = None
    other: str = ""
    act_other: Callable[[], object] | None = None


class Workbench(QObject):
    kit_changed = Signal()
    held_changed = Signal()
    view_changed = Signal()
    file_changed = Signal()
    noticed = Signal(object)
    recovery_failed = Signal(str)
    # The kit was to be saved over what another program has written: the file's path.
    other_on_disk = Signal(object)

    def __init__(self, settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.settings = settings
        self.pictures = PictureStore(self)
        self.looks = Looks(self)
        self.background = Background(self)
        self.history = History(Kit())
        self.path: Path | None = None
        self.saved_kit: Kit = self.history.kit
        self.saved_at = ""
        self.control_id = ""
        self._found: tuple[Kit | None, str, Control | None] = (None, "", None)
        self.state = REST
        # Controls that are held beside the first: a value set goes into all of them.
        self.also_held: frozenset[str] = frozenset()
        # The palette's scheme that is looked at; empty for the first.
        self.scheme = ""
        self._in_scheme: tuple[Kit | None, str, Kit] = (None, "", Kit())
        # Combinations of states that were put on the wall, by control.
        self.more_states: dict[str, tuple[str, ...]] = {}
        self.part_id = OUTLINE
        self.backdrop = SAIL
        self.density = 1
        # The one layer that the wall shows alone, or none.
        self.solo = ""
        # The state whose tile is open large, or none.
        self.loupe = ""
        self.recovery = Recovery(settings.recovery_folder, self.recovery_failed.emit)
        self.recovery_failed.connect(lambda why: self.noticed.emit(Notice(
            f"Unsaved work cannot be kept for after a crash. {why} Save soon.", bad=True)))
        self.disk = KitOnDisk(self)
        self.disk.changed.connect(self._tell_of_other)
        # Does something that would lose unsaved work; the window asks first.
        self.when_safe: Callable[[Callable[[], object]], object] = lambda act: act()

    # The kit

    @property
    def kit(self) -> Kit:
        return self.history.kit

    @property
    def control(self) -> Control | None:
        kit, control_id = self.kit, self.control_id
        if self._found[0] is not kit or self._found[1] != control_id:
            found = next((c for c in kit.controls if c.id == control_id), None)
            self._found = (kit, control_id, found)
        return self._found[2]

    @property
    def drawn(self) -> Kit:
        """The kit in the palette's scheme that is looked at."""
        kit = self.kit
        if not self.scheme or self.scheme not in kit.schemes:
            return kit
        if self._in_scheme[0] is not kit or self._in_scheme[1] != self.scheme:
            self._in_scheme = (kit, self.scheme, palette_edits.in_scheme(kit, self.scheme))
        return self._in_scheme[2]

    @property
    def settled_control(self) -> Control | None:
        """The held control as it shows: links and formulas worked out."""
        control = self.control
        return None if control is None else settled(self.drawn, control)

    @property
    def shown_size(self) -> tuple[float, float]:
        """Width and height in px that the held control shows itself at; larger than its own where
        it fits its content.
        """
        control = self.settled_control
        return (0.0, 0.0) if control is None else (float(control.size[0]), float(control.size[1]))

    def held_controls(self) -> list[Control]:
        """Every control that an edit goes into, the first held one first."""
        control = self.control
        if control is None:
            return []
        also = [one for one in self.kit.controls
                if one.id in self.also_held and one.id != control.id]
        return [control, *also]

    def is_mixed(self, part_id: str, name: str) -> bool:
        """Whether the held controls differ in a value."""
        if len(self.held_controls()) < 2:
            return False
        values = []
        for control in self.held_controls():
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
        extra = [one for one in (*control.states, *control.links, *control.formulas, *more)
                 if one != REST and one not in usual]
        return (*usual, *dict.fromkeys(extra))

    @property
    def unsaved(self) -> bool:
        return self.kit != self.saved_kit

    def edit(self, name: str, make: Callable[[Kit], Kit], merge: object = None) -> bool:
        """One named step. A refused edit is told and changes nothing.

        What it makes is held to every rule of the document, so that it can be saved and opened.
        """
        title = f"{name[0].upper()}{name[1:]}"
        try:
            kit = checked(make(self.kit), self.kit)
        except MektelError as error:
            self.noticed.emit(Notice(f"{title}: {error}", bad=True))
            return False
        except ValidationError as error:
            place, why = fault_of(error)
            self.noticed.emit(Notice(f"{title}: {place}: {why}" if place else f"{title}: {why}",
                                     bad=True))
            return False
        before = self.kit
        self.history.do(name, kit, merge)
        if self.kit is not before:
            self._after_change()
        return True

    def set_value(
        self, part_id: str, name: str, value: Any, words: str, drag: bool = False
    ) -> bool:
        """Sets a value of the held control in the held state; a drag is one step."""
        merge = (self.control_id, self.state, part_id, name) if drag else None
        where = "" if self.state == REST else f" in {self.state}"
        held = self.held_controls()
        if len(held) > 1:
            where += f" of {len(held)} controls"

        def make(kit: Kit) -> Kit:
            for control in held:
                part = like_part(self.control, control, part_id)
                if part is not None and name in type(control.part(part)).model_fields:
                    kit = edits.set_value(kit, control.id, self.state, part, name, value)
            return kit

        return self.edit(f"{words}{where}", make, merge)

    def end_drag(self) -> None:
        self.history.close_step()

    def undo(self) -> None:
        self.history.undo()
        self._after_change()

    def redo(self) -> None:
        self.history.redo()
        self._after_change()

    def _after_change(self) -> None:
        self.looks.drop_waiting()
        self.pictures.drop_waiting()
        self._keep_holding()
        self._keep_unsaved()
        self.kit_changed.emit()

    def _keep_holding(self) -> None:
        """What was held may be gone after an edit or undo; hold what is nearest to it."""
        control = self.control
        before = (self.control_id, self.part_id)
        if control is None:
            self.control_id = self.kit.controls[0].id if self.kit.controls else ""
            self.part_id = OUTLINE
        elif self.part_id != OUTLINE and all(la.id != self.part_id for la in control.layers):
            self.part_id = control.layers[-1].id if control.layers else OUTLINE
        if (self.control_id, self.part_id) != before:
            self.held_changed.emit()

    # Holding

    def hold(
        self, control_id: str | None = None, state: str | None = None, part_id: str | None = None
    ) -> None:
        self.history.close_step()
        if control_id is not None and control_id != self.control_id:
            self.control_id = control_id
            self.also_held = frozenset()
            self.state = REST
            control = self.control
            fills = [la.id for la in control.layers if la.kind == "fill"] if control else []
            self.part_id = fills[0] if fills else OUTLINE
            self.solo = ""
        if state is not None:
            self.state = state
        if part_id is not None:
            self.part_id = part_id
        self.held_changed.emit()

    def hold_also(self, control_id: str) -> None:
        """Takes one more control into hand, or lets it go again."""
        if control_id == self.control_id:
            return
        self.history.close_step()
        self.also_held = self.also_held ^ {control_id}
        self.held_changed.emit()

    def view(
        self, backdrop: str | None = None, density: int | None = None, solo: str | None = None,
        loupe: str | None = None, scheme: str | None = None,
    ) -> None:
        self.scheme = self.scheme if scheme is None else scheme
        self.backdrop = backdrop or self.backdrop
        self.density = density or self.density
        self.solo = self.solo if solo is None else solo
        self.loupe = self.loupe if loupe is None else loupe
        self.view_changed.emit()

    # Controls

    def add_starter(self, name: str) -> None:
        starter = read_kit(starter_files()[name])
        self._add(starter.controls[0], starter.palette, f"new {starter.controls[0].name}")

    def add_empty(self) -> None:
        """A control with an outline and nothing in it, to build from nothing."""
        self._add(Control(id="control", name="Control", text="Control"), (), "new control")

    def _add(self, control: Control, palette: Any, words: str) -> None:
        if self.edit(words, lambda kit: edits.add_control(kit, control, palette)):
            self.hold(self.kit.controls[-1].id)

    def import_drawing(self, path: Path) -> bool:
        """Puts a drawing or a style sheet on the shelf; what it could not take over is told."""
        if path.suffix.lower() == ".css":
            return self._import(lambda: read_css(path))
        return self._import(lambda: (*read_svg(path), ()))

    def _import(self, read: Callable[[], tuple[Any, Any, Any]]) -> bool:
        try:
            control, leftovers, palette = read()
        except MektelError as error:
            self.noticed.emit(Notice(str(error), bad=True))
            return False
        self._add(control, palette, f"import {control.name}")
        what = f"{control.name}: {len(control.layers)} layers, states proposed where none came."
        if leftovers:
            count = len(leftovers)
            things = "1 thing was" if count == 1 else f"{count} things were"
            what += f" {things} not taken over."
        self.noticed.emit(Notice(what, tuple(str(entry) for entry in leftovers)))
        return True

    # Layers and pictures, in and out

    def copy_layer(self, layer_id: str) -> str:
        """A layer with its changes as text, for this control or another, here or elsewhere."""
        return layer_to_text(self.kit, self.control_id, layer_id)

    def paste_layer(self, text: str) -> bool:
        """Puts a copied layer in front of the held one."""
        above = self.part_id if self.part_id != OUTLINE else None
        before = {layer.id for layer in self.control.layers} if self.control else set()
        if not self.edit("paste layer",
                         lambda kit: paste_layer(kit, self.control_id, text, above)):
            return False
        control = self.control
        if control is not None:
            new = [layer.id for layer in control.layers if layer.id not in before]
            self.hold(part_id=new[0] if new else self.part_id)
        return True

    def paste_css(self, text: str) -> bool:
        """Makes a control from CSS declarations or rules."""
        return self._import(lambda: control_from_css(text, "pasted CSS"))

    def add_picture(self, path: Path) -> None:
        """Takes a PNG into the kit as a new picture layer of the held control."""
        name = path.stem[:80].strip() or "Picture"

        def make(kit: Kit) -> Kit:
            before = {layer.id for layer in kit.control(self.control_id).layers}
            kit = edits.add_layer(kit, self.control_id, "picture", name)
            new = next(la.id for la in kit.control(self.control_id).layers
                       if la.id not in before)
            return self._with_picture(kit, path, REST, new)

        self.edit(f"take in {name}", make)

    def take_picture(self, path: Path, part_id: str) -> None:
        """Takes a PNG into the kit and shows it in a picture layer."""
        state = self.state
        self.edit(f"take in {path.stem}",
                  lambda kit: self._with_picture(kit, path, state, part_id))

    def _with_picture(self, kit: Kit, path: Path, state: str, part_id: str) -> Kit:
        """The picture in the kit and shown by a layer, its slices where they can stretch."""
        kit, asset = add_asset(kit, path.stem, read_limited(path, LARGEST_PICTURE))
        kit = edits.set_value(kit, self.control_id, state, part_id, "picture", asset)
        insets = picture_insets(pixels_of(kit.asset(asset).png))
        return edits.set_value(kit, self.control_id, state, part_id, "slices", insets)

    # Files

    def folder(self) -> Path:
        """Where a file dialog begins."""
        if self.path is not None:
            return self.path.resolve().parent
        recent = self.settings.recent
        return recent[0].parent if recent else Path.home()

    def start(self, kit: Kit, path: Path | None) -> None:
        """Begins with another document and a fresh history."""
        self.history = History(kit)
        self.path = path
        self.saved_kit = kit
        self.saved_at = ""
        self.control_id = ""
        self.state = REST
        self.hold(kit.controls[0].id if kit.controls else "")
        if path is not None:
            self.settings.remember(path)
        self.disk.know(path)
        self.recovery.drop()
        self.kit_changed.emit()
        self.file_changed.emit()

    def open(self, path: Path) -> bool:
        try:
            kit = read_kit(path)
        except MektelError as error:
            self.noticed.emit(Notice(f"Not opened. {error}", bad=True))
            return False
        self.start(kit, path)
        return True

    def open_demo(self) -> None:
        self.start(read_kit(DEMO), None)

    def save(self, path: Path, over: bool = False) -> bool:
        """Writes the kit; asks first where somebody else has written the file since, unless
        ``over``.
        """
        if not over and self.disk.is_other(path):
            self.other_on_disk.emit(path)
            return False
        try:
            write_kit(self.kit, path)
        except MektelError as error:
            self.noticed.emit(Notice(f"Not saved. {error}", bad=True))
            return False
        self.path = path
        self.saved_kit = self.kit
        self.saved_at = datetime.now().strftime("%H:%M")
        self.settings.remember(path)
        self.disk.know(path)
        self.recovery.drop()
        self.file_changed.emit()
        return True

    def _tell_of_other(self) -> None:
        """The file was changed by another window or program: both versions are offered."""
        path = self.path
        if path is None:
            return
        words = f"{path.name} was changed by another program."
        if self.unsaved:
            words += " Your changes are still here; saving will ask which to keep."
        self.noticed.emit(Notice(
            words, action="Load theirs", act=lambda: self.when_safe(lambda: self.open(path))))

    # Unsaved work, kept for after a crash

    def _keep_unsaved(self) -> None:
        if self.unsaved:
            self.recovery.keep(self.kit, self.path)
        else:
            self.recovery.drop()

    def offer_recovery(self) -> None:
        """Tells of work that a window left unsaved; it is kept until the user has decided."""
        left = self.recovery.leftovers()
        if left:
            self._offer(left[0], left[1:])

    def _offer(self, left: Leftover, more: list[Leftover]) -> None:
        when = datetime.fromtimestamp(left.written).strftime("%d %B, %H:%M")

        def go_on() -> None:
            if more:
                self._offer(more[0], more[1:])

        def restore() -> None:
            self.start(left.kit, left.path)
            self.recovery.adopt(left)
            self.saved_kit = Kit()  # not what is on disk, whatever that holds
            self._after_change()
            self.file_changed.emit()
            go_on()

        def discard() -> None:
            self.recovery.forget(left.file)
            go_on()

        self.noticed.emit(Notice(
            f"Mektel ended with unsaved changes in “{left.kit.name}” ({when}).",
            action="Bring them back", act=lambda: self.when_safe(restore),
            other="Discard them", act_other=discard))
