"""What the window works on: a document, what is selected in it, its file; and pictures of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Signal

from mektel.app.background import Background
from mektel.app.document import Document
from mektel.app.files import Files
from mektel.app.looks import Looks
from mektel.app.notices import Notice
from mektel.app.pictures import PictureStore
from mektel.app.selection import Selection, like_part
from mektel.app.settings import Settings
from mektel.app.turns import SpareTime
from mektel.app.widgets.field import finish_typing
from mektel.core.errors import MektelError
from mektel.core.kit import OUTLINE, REST, Control, History, Kit
from mektel.core.kit import edit as edits
from mektel.core.kit.assets import pixels_of
from mektel.core.kit.bringing_in import Arrival, with_arrivals
from mektel.core.kit.moving import add_asset, layer_to_text, paste_layer
from mektel.core.pictures.encoding import pixels_from_file, png_of
from mektel.core.slices import picture_insets
from mektel.formats.css import LARGEST_SHEET, control_from_css, name_of, pressables_of
from mektel.formats.kitfile import read_limited, read_sample
from mektel.formats.pictures import SUFFIXES
from mektel.formats.svg import read_svg
from mektel.samples import DEMO, starter_files

# Characters of a style sheet that is read at once.
SHORT_SHEET = 6000
LARGEST_PICTURE = 16 * 1024 * 1024


class Workbench(QObject):
    """Holds the three together, and is what every view is given; it has their short names."""

    kit_changed = Signal()
    selected_changed = Signal()
    view_changed = Signal()
    file_changed = Signal()
    noticed = Signal(object)
    other_on_disk = Signal(object)
    # A part and one of its values, to be shown where its timing is.
    timing_wanted = Signal(str, str)
    # The text of a style sheet and where it is from, to be chosen from.
    sheet_wanted = Signal(str, str)
    # The paths of pictures that a control is to be made of.
    pictures_wanted = Signal(object)
    # The path of a flat picture that is to be read as layers.
    reading_wanted = Signal(object)
    # A layer whose text is to be typed.
    text_wanted = Signal(str)

    def __init__(self, settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.settings = settings
        self.pictures = PictureStore(self)
        self.turns = self.pictures.turns
        self.looks = Looks(self)
        self.spare_time = SpareTime(lambda: self.pictures.busy or self.looks.busy, self)
        self.background = Background(self)
        self.document = Document(self)
        self.selection = Selection(self.document, self)
        self.files = Files(self.document, settings, self)
        self.document.changed.connect(self._after_change)
        self.document.noticed.connect(self.noticed)
        self.selection.selected_changed.connect(self.selected_changed)
        self.selection.view_changed.connect(self.view_changed)
        self.files.started.connect(self._begin)
        self.files.changed.connect(self.file_changed)
        self.files.noticed.connect(self.noticed)
        self.files.other_on_disk.connect(self.other_on_disk)
        self.select, self.select_also = self.selection.select, self.selection.select_also
        self.view, self.is_mixed = self.selection.view, self.selection.is_mixed
        self.selected_controls = self.selection.selected_controls
        self.shown_states = self.selection.shown_states
        self.edit, self.end_drag = self.document.edit, self.document.end_drag
        self.open, self.save, self.start = self.files.open, self.files.save, self.files.start
        self.folder, self.offer_recovery = self.files.folder, self.files.offer_recovery

    def undo(self) -> None:
        finish_typing()
        self.document.undo()

    def redo(self) -> None:
        finish_typing()
        self.document.redo()

    def _after_change(self) -> None:
        self.looks.drop_waiting()
        self.pictures.drop_waiting()
        self.selection.keep()
        self.files.keep_unsaved()
        self.kit_changed.emit()

    def _begin(self) -> None:
        """Another kit is there: its first control is selected."""
        self.selection.control_id, self.selection.state = "", REST
        self.select(self.kit.controls[0].id if self.kit.controls else "")
        self.kit_changed.emit()

    # Short names for what views ask most

    @property
    def kit(self) -> Kit:
        return self.document.kit

    @property
    def history(self) -> History:
        return self.document.history

    @property
    def unsaved(self) -> bool:
        return self.document.unsaved

    @property
    def control(self) -> Control | None:
        return self.selection.control

    @property
    def drawn(self) -> Kit:
        return self.selection.drawn

    @property
    def settled_control(self) -> Control | None:
        return self.selection.settled_control

    @property
    def shown_size(self) -> tuple[float, float]:
        return self.selection.shown_size

    @property
    def control_id(self) -> str:
        return self.selection.control_id

    @property
    def part_id(self) -> str:
        return self.selection.part_id

    @property
    def state(self) -> str:
        return self.selection.state

    @property
    def backdrop(self) -> str:
        return self.selection.backdrop

    @property
    def density(self) -> int:
        return self.selection.density

    # Edits of what is selected

    def set_value(
        self, part_id: str, name: str, value: Any, step: str, drag: bool = False
    ) -> bool:
        """Sets a value of the selected control in the selected state; a drag is one step."""
        merge = (self.control_id, self.state, part_id, name) if drag else None
        where = "" if self.state == REST else f" in {self.state}"
        selected = self.selected_controls()
        if len(selected) > 1:
            where += f" of {len(selected)} controls"

        def make(kit: Kit) -> Kit:
            for control in selected:
                part = like_part(self.control, control, part_id)
                if part is not None and name in type(control.part(part)).model_fields:
                    kit = edits.set_value(kit, control.id, self.state, part, name, value)
            return kit

        return self.edit(f"{step}{where}", make, merge)

    def open_demo(self) -> None:
        self.start(read_sample(DEMO), None)

    # Controls

    def add_starter(self, name: str) -> None:
        starter = read_sample(starter_files()[name])
        self._add(starter.controls[0], starter.palette, f"new {starter.controls[0].name}",
                  starter.values)

    def add_empty(self) -> None:
        """A control with an outline and nothing in it, to build from nothing."""
        self._add(Control(id="control", name="Control", text="Control"), (), "new control")

    def _add(self, control: Control, palette: Any, step: str, values: Any = ()) -> None:
        if self.edit(step, lambda kit: edits.add_control(kit, control, palette, values)):
            self.select(self.kit.controls[-1].id)

    def import_files(self, paths: Sequence[Path]) -> None:
        """Drawings and style sheets one after the other, pictures together as one control."""
        pictures = [path for path in paths if path.suffix.lower() in SUFFIXES]
        if pictures:
            self.pictures_wanted.emit(pictures)
        for path in paths:
            if path not in pictures:
                self.import_drawing(path)

    def import_drawing(self, path: Path) -> bool:
        """Puts a drawing or a style sheet on the shelf; what it could not take over is listed."""
        if path.suffix.lower() == ".css":
            try:
                text = read_limited(path, LARGEST_SHEET).decode("utf-8", "replace")
            except MektelError as error:
                self.noticed.emit(Notice(str(error), bad=True))
                return False
            return self.import_sheet(text, str(path), name_of(path))
        def read() -> tuple[Arrival, Sequence[object]]:
            made = read_svg(path)
            return Arrival(made.control, pictures=made.pictures), made.leftovers

        return self._import(read)

    def import_sheet(self, text: str, source: str, name: str = "") -> bool:
        """Makes a control of a short sheet that describes one; others are chosen from."""
        if len(text) <= SHORT_SHEET and len(pressables_of(text, source)) < 2:
            def read() -> tuple[Arrival, Sequence[object]]:
                control, leftovers, palette = control_from_css(text, source, name)
                return Arrival(control, palette), leftovers

            return self._import(read)
        self.sheet_wanted.emit(text, source)
        return True

    def _import(self, read: Callable[[], tuple[Arrival, Sequence[object]]]) -> bool:
        try:
            arrival, leftovers = read()
        except MektelError as error:
            self.noticed.emit(Notice(str(error), bad=True))
            return False
        control = arrival.control
        if not self.edit(f"import {control.name}", lambda kit: with_arrivals(kit, [arrival])):
            return False
        self.select(self.kit.controls[-1].id)
        what = f"{control.name}: {len(control.layers)} layers, missing states suggested."
        if leftovers:
            count = len(leftovers)
            things = "1 thing was" if count == 1 else f"{count} things were"
            what += f" {things} skipped."
        self.noticed.emit(Notice(what, tuple(str(entry) for entry in leftovers)))
        return True

    # Layers and pictures, in and out

    def copy_layer(self, layer_id: str) -> str:
        """A layer with its changes as text, for this control or another, here or elsewhere."""
        return layer_to_text(self.kit, self.control_id, layer_id)

    def paste_layer(self, text: str) -> bool:
        """Puts a copied layer in front of the selected one."""
        above = self.part_id if self.part_id != OUTLINE else None
        before = {layer.id for layer in self.control.layers} if self.control else set()
        if not self.edit("paste layer",
                         lambda kit: paste_layer(kit, self.control_id, text, above)):
            return False
        control = self.control
        if control is not None:
            new = [layer.id for layer in control.layers if layer.id not in before]
            self.select(part_id=new[0] if new else self.part_id)
        return True

    def paste_css(self, text: str) -> bool:
        """Makes a control from CSS declarations or rules."""
        return self.import_sheet(text, "pasted CSS")

    def add_picture(self, path: Path) -> None:
        """Takes a picture into the kit as a new picture layer of the selected control."""
        name = path.stem[:80].strip() or "Picture"

        def make(kit: Kit) -> Kit:
            before = {layer.id for layer in kit.control(self.control_id).layers}
            kit = edits.add_layer(kit, self.control_id, "picture", name)
            new = next(la.id for la in kit.control(self.control_id).layers
                       if la.id not in before)
            return self._with_picture(kit, path, REST, new)

        self.edit(f"import {name}", make)

    def take_picture(self, path: Path, part_id: str) -> None:
        """Takes a picture into the kit and shows it in a picture layer."""
        state = self.state
        self.edit(f"import {path.stem}",
                  lambda kit: self._with_picture(kit, path, state, part_id))

    def _with_picture(self, kit: Kit, path: Path, state: str, part_id: str) -> Kit:
        """The picture in the kit and shown by a layer, its slices where they can stretch."""
        content = read_limited(path, LARGEST_PICTURE)
        if path.suffix.lower() != ".png":
            content = png_of(pixels_from_file(content))
        kit, asset = add_asset(kit, path.stem, content)
        kit = edits.set_value(kit, self.control_id, state, part_id, "picture", asset)
        insets = picture_insets(pixels_of(kit.asset(asset).png))
        return edits.set_value(kit, self.control_id, state, part_id, "slices", insets)
