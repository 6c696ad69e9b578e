"""Sprites: a PNG per state and density, an atlas per density, and a JSON description."""

from __future__ import annotations

import io
import json
import os
from collections.abc import Iterable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path, PurePosixPath
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mektel.core.kit import CONTROL, OUTLINE, Control, Kit, Label, designed_states
from mektel.core.look import GroupLook, LabelLook, parse_flags, resolve, shared_margins
from mektel.core.look.scene import rgba
from mektel.core.paint import on_backdrop, render, render_both
from mektel.core.slices import control_insets, insets_of, pack, stretch_zones
from mektel.formats.png import png_of_straight, premultiplied, straight
from mektel.targets.base import (
    CancelledError,
    LayerPlan,
    OutFile,
    Progress,
    Shot,
    Taken,
    TargetError,
    font_files,
)
from mektel.targets.instrument import with_lost
from mektel.targets.sheet import sheet_of

DENSITIES = (1, 2, 3)
FORMAT = 1
INDEX = "sprites.json"
# Where pictures lie on a sheet (x, y, width, height), by control and key.
Regions = dict[tuple[str, str], list[int]]


@dataclass(frozen=True, eq=False)
class Sprite:
    """One picture: of one state of a control at one density, with its label or blank."""

    control: Control
    state: str
    blank: bool
    density: int
    rgba: NDArray[np.uint8]
    # Its PNG, once that is under way.
    packed: list[Future[bytes]] = field(default_factory=list)

    @cached_property
    def straight(self) -> NDArray[np.uint8]:
        return straight(self.rgba)

    @property
    def path(self) -> PurePosixPath:
        name = f"{self.control.id}-{self.state}{'-blank' if self.blank else ''}"
        return PurePosixPath(self.control.id) / f"{name}@{self.density}x.png"

    @property
    def key(self) -> str:
        return f"{self.state}-blank" if self.blank else self.state


class Sprites:
    id = "sprites"
    title = "Sprites"
    summary = "PNG pictures per state and density, atlases, and JSON"
    taken: frozenset[str] = frozenset()
    takes_arguments = False

    def own_files(self, control: Control) -> list[str]:
        return [f"{control.id}/"]

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        sheet = sheet_of(kit, control)
        why = {
            "label": "also left out of the -blank pictures, for text of your own",
            "lens": "its tint and rim; a picture cannot bend or blur what lies behind it",
        }
        plans = [
            LayerPlan(part.title, "partly" if part.kind == "lens" else "baked",
                      why.get(part.kind, ""), part=part.name) for part in sheet.layers]
        return with_lost(plans, [
            (driver, "it is a picture, made with the defaults")
            for driver in sheet.driven if driver.part not in (OUTLINE, CONTROL)])

    def main_file(self, control: Control) -> PurePosixPath:
        return PurePosixPath(INDEX)

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        chosen = list(controls)
        # Compression runs beside Python: while one picture is packed the next one is drawn.
        with ThreadPoolExecutor(max_workers=max(2, os.cpu_count() or 2)) as pool:
            sprites: list[Sprite] = []
            sheets: dict[int, tuple[Future[bytes], Regions]] = {}
            # The largest first: its sheet is packed while the others are drawn.
            for density in reversed(DENSITIES):
                batch = [sprite for control in chosen
                         for sprite in _sprites(kit, control, density, pool)]
                size, regions = _places(batch)
                sheets[density] = (pool.submit(_sheet, batch, size, regions), regions)
                sprites += batch
            sprites.sort(key=lambda sprite: (
                chosen.index(sprite.control), sprite.density))
            described = {
                control.id: _described(
                    kit, control, [sprite for sprite in sprites if sprite.control is control],
                    {density: regions for density, (_, regions) in sheets.items()})
                for control in chosen
            }
        atlases = [
            OutFile(PurePosixPath(f"atlas@{density}x.png"), content.result())
            for density in DENSITIES for content, _ in [sheets[density]]
        ]
        index = {"format": FORMAT, "kit": kit.name, "controls": described}
        text = json.dumps(index, indent=2, ensure_ascii=False) + "\n"
        return [
            OutFile(PurePosixPath(INDEX), text.encode(), "json"),
            *atlases,
            *(OutFile(sprite.path, sprite.packed[0].result()) for sprite in sprites),
            *font_files({font for control in chosen for font in sheet_of(kit, control).fonts},
                        PurePosixPath("fonts")),
        ]

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        return (
            f'control = json.load(open("{INDEX}"))["controls"]["{control.id}"]\n'
            f'density = control["densities"]["2"]\n'
            f'x, y, w, h = density["regions"]["hover"]  # in density["atlas"]\n'
            f'left, top, right, bottom = control["margins"]  # px round the pressable box\n',
            "python",
        )

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        """Reads the atlas back by its JSON, as a game would, and lays it on the backdrop."""
        try:
            index = json.loads((folder / INDEX).read_text(encoding="utf-8"))
        except (OSError, ValueError) as error:
            raise TargetError(f"{folder / INDEX}: {error}") from None
        taken = []
        sheets: dict[int, NDArray[np.uint8]] = {}
        for at, shot in enumerate(shots):
            if not progress(at, len(shots), f"{shot.control.name} from the atlas"):
                raise CancelledError("Stopped; not every picture was compared.")
            described = index["controls"][shot.control.id]
            density = described["densities"][str(shot.scale)]
            if shot.scale not in sheets:
                content = (folder / density["atlas"]).read_bytes()
                sheets[shot.scale] = premultiplied(
                    np.asarray(Image.open(io.BytesIO(content)).convert("RGBA"))
                )
            key = shot.state + ("-blank" if shot.text == "" and shot.control.text else "")
            x, y, w, h = density["regions"][key]
            pixels = on_backdrop(sheets[shot.scale][y : y + h, x : x + w], rgba(kit, backdrop))
            left, top, right, bottom = described["margins"]
            box = (left, top, w / shot.scale - left - right, h / shot.scale - top - bottom)
            taken.append(Taken(shot, pixels, box))
        return taken


def _places(sprites: list[Sprite]) -> tuple[tuple[int, int], Regions]:
    """How large the sheet of one density is, and where each picture lies on it."""
    size, places = pack([sprite.rgba.shape[1::-1] for sprite in sprites])
    return size, {
        (sprite.control.id, sprite.key): [x, y, sprite.rgba.shape[1], sprite.rgba.shape[0]]
        for sprite, (x, y) in zip(sprites, places, strict=True)}


def _sheet(sprites: list[Sprite], size: tuple[int, int], regions: Regions) -> bytes:
    width, height = size
    sheet = np.zeros((height, width, 4), np.uint8)
    for sprite in sprites:
        x, y, w, h = regions[(sprite.control.id, sprite.key)]
        sheet[y : y + h, x : x + w] = sprite.straight
    return png_of_straight(sheet)


def _sprites(kit: Kit, control: Control, density: int, pool: ThreadPoolExecutor
             ) -> list[Sprite]:
    """A control's pictures of one density; each begins to be packed as soon as it is drawn."""
    sprites: list[Sprite] = []

    def keep(state: str, blank: bool, pixels: NDArray[np.uint8]) -> None:
        sprite = Sprite(control, state, blank, density, pixels)
        sprite.packed.append(pool.submit(png_of_straight, sprite.straight))
        sprites.append(sprite)

    margins = shared_margins(kit, control)
    labelled = any(isinstance(layer, Label) for layer in control.layers)
    for state in designed_states(control.behaviour, control.states):
        flags = parse_flags(state)
        if "pressed" in flags:
            flags |= {"hover"}  # so a press by pointer looks in a game
        full = resolve(kit, control, flags)
        if not labelled:
            keep(state, False, render(full, density, margins).rgba)
            continue
        empty = resolve(kit, control, flags, text="")
        drawn = tuple(layer for layer in empty.layers if not _is_empty_label(layer))
        pair = render_both(replace(empty, layers=drawn), full, density, margins)
        for at, look in enumerate(pair):
            keep(state, at == 0, look.rgba)
    return sprites


def _is_empty_label(layer: object) -> bool:
    members = layer.members if isinstance(layer, GroupLook) else (layer,)
    return all(isinstance(member, LabelLook) and not member.text for member in members)


def _described(
    kit: Kit, control: Control, mine: list[Sprite], regions: dict[int, Regions]
) -> dict[str, Any]:
    """What a game reads of a control."""
    margins = shared_margins(kit, control)
    plain = [s.rgba for s in mine if s.density == 1 and s.blank] or [
        s.rgba for s in mine if s.density == 1]
    by_hand = control.slices is not None
    insets = control_insets(kit, control) if by_hand else insets_of(plain, margins)
    densities = {}
    for density in DENSITIES:
        batch = [sprite for sprite in mine if sprite.density == density]
        plain = [s.rgba for s in batch if s.blank] or [s.rgba for s in batch]
        zones = stretch_zones(plain)
        densities[str(density)] = {
            "atlas": f"atlas@{density}x.png",
            "regions": {s.key: regions[density][(control.id, s.key)] for s in batch},
            "files": {s.key: str(s.path) for s in batch},
            "stretch": {"columns": zones.columns, "rows": zones.rows},
        }
    described: dict[str, Any] = {
        "name": control.name,
        "text": control.text,
        "size": list(control.size),
        "margins": [margins.left, margins.top, margins.right, margins.bottom],
        "insets": [insets.left, insets.top, insets.right, insets.bottom],
        "smallest": list(insets.smallest),
        "states": list(designed_states(control.behaviour, control.states)),
        "densities": densities,
    }
    own = {layer.id for layer in control.layers}
    labels = [look for look in resolve(kit, control).layers
              if isinstance(look, LabelLook) and look.id in own]
    if labels:
        colours = {}
        for state in designed_states(control.behaviour, control.states):
            part = control.part_in(labels[0].id, parse_flags(state))
            colours[state] = kit.colour(part.colour)
        label = labels[0]
        described["label"] = {
            "family": label.family, "weight": label.weight, "size": label.size,
            "pen": [round(label.x, 3), round(label.baseline, 3)], "colours": colours,
        }
    return described
