"""Sprites: pictures of every look on sheets, and a JSON description of how they are used."""

from __future__ import annotations

import os
from collections.abc import Iterable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path, PurePosixPath

import numpy as np
from numpy.typing import NDArray

from mektel.core.kit import CONTROL, OUTLINE, Control, Kit
from mektel.core.look.scene import rgba
from mektel.core.motion.room import moving_room
from mektel.core.paint import on_backdrop, render
from mektel.core.shape import polygons
from mektel.core.shape.free import thinned
from mektel.core.slices import SheetSizeError, box_zones, control_insets, insets_of, stretchable
from mektel.formats.png import png_bytes
from mektel.targets.answering import answers_plan
from mektel.targets.base import (
    NO_SIGNALS,
    CancelledError,
    LayerPlan,
    OutFile,
    Progress,
    Shot,
    Taken,
    TargetError,
    font_files,
)
from mektel.targets.instrument import STILL, with_lost
from mektel.targets.sheet import Sheet, sheet_of
from mektel.targets.sprites.description import (
    SCHEMA,
    ControlSprites,
    Density,
    Repeat,
    Sprites,
    schema_json,
    to_json,
)
from mektel.targets.sprites.films import films_summary, frames_of
from mektel.targets.sprites.pictures import ControlPictures, Drawn, pictures_of
from mektel.targets.sprites.playing import INDEX, Player
from mektel.targets.sprites.sheets import FORMATS, Sheets, sheets_of
from mektel.targets.sprites.texts import texts_over

DENSITIES = (1, 2, 3)
LIMIT = 4096
FRAMES_ONLY = "it is in the frames of films; a game plays nothing of its own"
# So far may the edge of what answers the pointer be from the outline, px.
HIT_ERROR = 0.1


class SpriteTarget:
    """``limit`` is the longest side of a sheet in pixels: ``LIMIT``, or more for a picture that is
    larger, where none is asked for. ``form`` is a sheet's format (png or webp); with ``singles``
    every look is a picture of its own, too. ``films`` are gestures that are shipped as frames,
    ``rate`` a second.
    """

    id = "sprites"
    title = "Sprites"
    summary = "Pictures of every state on sheets, and JSON"
    taken: frozenset[str] = frozenset()
    signals = NO_SIGNALS
    takes_arguments = False
    keeps_places = True

    def __init__(
        self, limit: int | None = None, form: str = "png", singles: bool = False,
        films: Sequence[str] = (), rate: float = 30.0,
    ) -> None:
        if form not in FORMATS:
            raise TargetError(f"A sheet is png or webp, not {form}.")
        self.limit, self.form, self.singles = limit, form, singles
        self.films, self.rate = tuple(films), rate

    def own_files(self, control: Control) -> list[str]:
        return [f"{control.id}/"]

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        sheet = sheet_of(kit, control)
        plans = [LayerPlan(part.title, "partly" if part.kind == "lens" else "baked",
                           _why(sheet, part.name), part=part.name) for part in sheet.layers]
        lost = with_lost(plans, [
            (driver, "it is a picture, made with the defaults")
            for driver in sheet.driven if driver.part not in (OUTLINE, CONTROL)])
        if self.films:
            return [*lost, *answers_plan(sheet, lambda _: "", lambda _: FRAMES_ONLY)]
        return [*lost, *answers_plan(sheet, lambda _: STILL)]

    def main_file(self, control: Control) -> PurePosixPath:
        return PurePosixPath(INDEX)

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        chosen = list(controls)
        drawn: dict[int, dict[str, Drawn]] = {}
        sheets: dict[int, Sheets] = {}
        pictures = {control.id: self._pictures(kit, control) for control in chosen}
        # Compression runs beside Python: while one density is packed the next one is drawn.
        with ThreadPoolExecutor(max_workers=max(2, os.cpu_count() or 2)) as pool:
            packed: dict[str, Future[bytes]] = {}
            for density in reversed(DENSITIES):
                drawn[density] = {own: of.draw(density) for own, of in pictures.items()}
                try:
                    made = sheets_of(
                        drawn[density], density, self._limit(drawn[density]), self.form)
                except SheetSizeError as error:
                    raise TargetError(f"At {density}×, {error}; allow larger sheets.") from None
                sheets[density] = made
                packed |= {name: pool.submit(made.file, name) for name in made.sizes}
            singles = self._singles(pictures) if self.singles else {}
        index = Sprites(
            kit=kit.name,
            sheets={name: size for density in DENSITIES
                    for name, size in sheets[density].sizes.items()},
            controls={
                control.id: _described(
                    kit, control, pictures[control.id],
                    {density: drawn[density][control.id] for density in DENSITIES}, sheets,
                    singles.get(control.id, {}))
                for control in chosen})
        fonts = {font for control in chosen for font in sheet_of(kit, control).fonts}
        return [
            OutFile(PurePosixPath(INDEX), to_json(index).encode(), "json"),
            OutFile(PurePosixPath(SCHEMA), schema_json().encode(), "json"),
            *(OutFile(PurePosixPath(name), packed[name].result())
              for density in DENSITIES for name in sheets[density].sizes),
            *(OutFile(PurePosixPath(path), content) for of in singles.values()
              for paths in of.values() for path, content in paths.values()),
            *font_files(fonts, PurePosixPath("fonts")),
        ]

    def _pictures(self, kit: Kit, control: Control) -> ControlPictures:
        made = pictures_of(sheet_of(kit, control))
        for name in self.films:
            frames = frames_of(kit, control, name, self.rate)
            if frames is not None:
                made.add_film(name, frames)
        if not made.films:
            return made
        return replace(made, room=moving_room(control, made.sheet.margins))

    def films_summary(self, kit: Kit, controls: Sequence[Control]) -> str:
        """How much the films will be, before anything is drawn."""
        room = {}
        for control in controls:
            margins = moving_room(control, sheet_of(kit, control).margins)
            width, height = control.size
            room[control.id] = (width + margins.left + margins.right,
                                height + margins.top + margins.bottom)
        return films_summary(kit, controls, self.films, self.rate, DENSITIES, room)

    def _limit(self, drawn: dict[str, Drawn]) -> int:
        if self.limit is not None:
            return self.limit
        return max([LIMIT, *(side for of in drawn.values() for side in of.size)])

    def _singles(
        self, pictures: dict[str, ControlPictures]
    ) -> dict[str, dict[int, dict[str, tuple[str, bytes]]]]:
        """By control, density and look: the path and PNG of a picture of its own."""
        return {own: {
            density: {
                look.name: (f"{own}/{own}-{look.name}@{density}x.png", png_bytes(
                    render(look.full, density, of.margins).rgba))
                for look in of.appearances}
            for density in DENSITIES} for own, of in pictures.items()}

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        return (
            f'control = json.load(open("{INDEX}"))["controls"]["{control.id}"]\n'
            'look = control["looks"][control["shown"]["hover"]]\n'
            'pictures = control["densities"]["2"]["pictures"]\n'
            'face = pictures[look["face"]]  # sheet, at, offset\n'
            'for name in look["texts"]:  # laid over it, or set your own\n'
            '    label = pictures[control["texts"][name]["picture"]]\n',
            "python",
        )

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        """Puts every look together from the sheets by the JSON, and lays it on the backdrop."""
        player, taken = Player(folder), []
        for at, shot in enumerate(shots):
            if not progress(at, len(shots), f"{shot.control.name} from the sheets"):
                raise CancelledError("Stopped; not every picture was compared.")
            pixels, box = player.compose(shot)
            taken.append(Taken(shot, on_backdrop(pixels, rgba(kit, backdrop)), box))
        return taken


def _why(sheet: Sheet, name: str) -> str:
    part = sheet.part(name)
    if part.kind == "lens":
        return "its tint and rim; a picture cannot bend or blur what lies behind it"
    if part.kind != "label" or part.host:
        return ""
    labels = {other.name for other in sheet.layers if other.kind == "label" and not other.host}
    looks = [sheet.look(flags) for flags in sheet.distinct]
    if any(layer.id == name and all(over.id != name for over in texts_over(look, labels))
           for look in looks for layer in look.layers):
        return "a text of your own lies over what lies over this one"
    if any(state.values.style in ("radial", "conic") for state in part.distinct):
        return "a picture of its own; a text of your own is set in one colour"
    return "a picture of its own, so that a text of your own can stand in its place"


def _hit(sheet: Sheet) -> list[NDArray[np.float64]]:
    """The control's outline as closed polygons of few points."""
    rings = [np.array([*ring, ring[0]]) for ring in polygons(sheet.shape(frozenset()))]
    return [thinned(ring, HIT_ERROR)[:-1] for ring in rings]


def _described(
    kit: Kit, control: Control, pictures: ControlPictures, drawn: dict[int, Drawn],
    sheets: dict[int, Sheets], singles: dict[int, dict[str, tuple[str, bytes]]],
) -> ControlSprites:
    """What a game reads of a control."""
    sheet = pictures.sheet
    margins, size = pictures.margins, sheet.size
    spans = stretchable(kit, control)
    by_hand = control.slices is not None
    insets = control_insets(kit, control) if by_hand else insets_of(
        drawn[1].faces, margins, size, spans)
    densities = {}
    for density in DENSITIES:
        zones = box_zones(drawn[density].faces, margins, size, density, spans)
        densities[str(density)] = Density(
            size=drawn[density].size,
            pictures={name: sheets[density].regions[control.id, name]
                      for name in drawn[density].pictures},
            repeat=Repeat(columns=zones.columns, rows=zones.rows),
            files={name: path for name, (path, _) in singles.get(density, {}).items()})
    outline = tuple(tuple((round(x, 2), round(y, 2)) for x, y in ring)
                    for ring in _hit(sheet))
    return ControlSprites(
        name=sheet.name, text=sheet.text, behaviour=sheet.behaviour, states=sheet.states,
        shown=pictures.shown, size=size,
        margins=(margins.left, margins.top, margins.right, margins.bottom),
        insets=(insets.left, insets.top, insets.right, insets.bottom), smallest=insets.smallest,
        hit=outline, looks=pictures.looks, texts=pictures.texts,
        films=pictures.films, densities=densities)
