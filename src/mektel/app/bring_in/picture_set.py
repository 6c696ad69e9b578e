"""Pictures on their way to a control: files, regions on them, and which state each shows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from mektel.app.background import Background
from mektel.core.errors import MektelError
from mektel.core.finding import Finding
from mektel.core.kit import Kit
from mektel.core.kit.bringing_in import Arrival, with_arrivals
from mektel.core.kit.conditions import REST
from mektel.core.pictures.as_control import Zones, arrival_of, zones_of
from mektel.core.pictures.layout import Canvas, StatePicture, equal_bounds
from mektel.core.pictures.regions import Box
from mektel.formats.pictures import ORDERS, Loaded, cut, is_sheet, load, of_files

SLOT = "pictures"
Insets = tuple[int, int, int, int]


@dataclass(frozen=True)
class Region:
    """A picture on one of the files, by its place among them; ``box`` in its pixels."""

    file: int
    box: Box


@dataclass(frozen=True)
class Result:
    """What the pictures come to: all in equal bounds, and a control in a kit of its own."""

    canvas: Canvas
    zones: Zones
    arrival: Arrival
    kit: Kit
    findings: list[Finding] = field(default_factory=list)


class PictureSet(QObject):
    """``opened`` is sent once the files were read, ``changed`` whenever ``result`` is another."""

    opened = Signal()
    changed = Signal()
    failed = Signal(str)

    def __init__(self, paths: Sequence[Path], background: Background, parent: QObject) -> None:
        super().__init__(parent)
        self.paths = list(paths)
        self.files: list[Loaded] = []
        self.regions: list[Region] = []
        self.placed: dict[str, int] = {}
        self.nudges: dict[str, tuple[float, float]] = {}
        self.others: list[StatePicture] = []
        # The one that counts, and the highest one that the names of the files say.
        self.density = self._said = 1.0
        self.name = "Control"
        self.insets: Insets | None = None
        self.result: Result | None = None
        self.error = ""
        self._background = background
        background.ask(SLOT, self._open, self._take)

    def _open(self) -> list[Loaded] | str:
        try:
            files = [load(path) for path in self.paths]
            if not is_sheet(files):
                of_files(files)
            return files
        except MektelError as error:
            return str(error)

    def _take(self, files: list[Loaded] | str) -> None:
        if isinstance(files, str):
            self.failed.emit(files)
            return
        self.files = files
        self.name = files[0].guess.title
        if is_sheet(files):
            self.density = files[0].guess.density
            self.regions = [Region(0, box) for box in files[0].regions.boxes]
            order = ORDERS.get(len(self.regions), ("rest",))
            self.placed = {state: at for at, state in enumerate(order)}
        else:
            self._place_files()
        self.opened.emit()
        self.refresh()

    def _place_files(self) -> None:
        """Each file is a region; of each state the densest is shown."""
        self.density = self._said = max(file.guess.density for file in self.files)
        for at, file in enumerate(self.files):
            height, width = file.pixels.shape[:2]
            self.regions.append(Region(at, (0, 0, width, height)))
        for at, file in sorted(enumerate(self.files), key=lambda pair: pair[1].guess.density):
            known = self.placed.get(file.guess.condition)
            if known is not None:
                other = self.files[known]
                self.others.append(StatePicture(
                    file.guess.condition, other.pixels, other.guess.density,
                    name=other.path.name))
            self.placed[file.guess.condition] = at

    # What the user changes

    def place(self, state: str, region: int) -> None:
        """Puts a region on a state; it keeps its other states."""
        self.placed[state] = region
        self.nudges.pop(state, None)
        self.others = [other for other in self.others if other.condition != state]
        self.refresh()

    def remove(self, state: str) -> None:
        if self.placed.pop(state, None) is not None:
            self.nudges.pop(state, None)
            self.others = [other for other in self.others if other.condition != state]
            self.refresh()

    def nudge(self, state: str, dx: float, dy: float) -> None:
        x, y = self.nudges.get(state, (0.0, 0.0))
        self.nudges[state] = (x + dx, y + dy)
        self.refresh()

    def set_box(self, region: int, box: Box) -> None:
        self.regions[region] = replace(self.regions[region], box=box)
        self.insets = None
        self.refresh()

    def add_region(self, file: int, box: Box) -> int:
        self.regions.append(Region(file, box))
        self.refresh()
        return len(self.regions) - 1

    def set_density(self, density: float) -> None:
        self.others = [replace(other, density=other.density * density / self.density)
                       for other in self.others]
        self.density = density
        self.refresh()

    def set_insets(self, insets: Insets | None) -> None:
        self.insets = insets
        self.refresh()

    def set_name(self, name: str) -> None:
        self.name = name.strip()[:80] or "Control"
        self.refresh()

    # What it comes to

    def pictures(self) -> list[StatePicture]:
        made = []
        for state, at in self.placed.items():
            region = self.regions[at]
            file = self.files[region.file]
            height, width = file.pixels.shape[:2]
            whole = region.box == (0, 0, width, height)
            # A sheet has the density that was chosen; of files each has its own beside the others'.
            share = 1.0 if is_sheet(self.files) else file.guess.density / self._said
            made.append(StatePicture(
                state, file.pixels if whole else cut(file.pixels, region.box), self.density * share,
                self.nudges.get(state, (0.0, 0.0)),
                placed=file.regions.in_cells, name=file.path.name if whole else ""))
        return made + self.others

    @property
    def flat(self) -> bool:
        """Whether nothing shines through the pictures: they show their backdrop as well."""
        return not is_sheet(self.files) and all(file.is_opaque for file in self.files)

    def whole_files(self) -> dict[str, Path]:
        """By state the files that show one as a whole, that of rest first."""
        made = {}
        for state in sorted(self.placed, key=lambda state: state != REST):
            region = self.regions[self.placed[state]]
            file = self.files[region.file]
            if region.box == (0, 0, *file.pixels.shape[1::-1]):
                made[state] = file.path
        return made

    def refresh(self) -> None:
        """Works it out anew beside the interface thread."""
        if not any(state == "rest" for state in self.placed):
            self.result, self.error = None, "Put a picture on Rest first."
            self.changed.emit()
            return
        make = partial(_result_of, self.pictures(), self.name, self.insets)
        self._background.ask(SLOT, make, self._take_result)

    def _take_result(self, result: Result | str) -> None:
        self.result = result if isinstance(result, Result) else None
        self.error = result if isinstance(result, str) else ""
        self.changed.emit()


def _result_of(
    pictures: list[StatePicture], name: str, insets: Insets | None
) -> Result | str:
    try:
        canvas = equal_bounds(pictures)
        width, height = canvas.size
        if insets is not None and (insets[0] + insets[2] >= width
                                   or insets[1] + insets[3] >= height):
            insets = None
        arrival, findings = arrival_of(canvas, name, insets=insets)
        return Result(canvas, zones_of(canvas), arrival, with_arrivals(Kit(), [arrival]), findings)
    except (MektelError, ValueError) as error:
        return str(error)
