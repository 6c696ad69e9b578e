"""Sprites: a PNG per state and density, an atlas per density, and a JSON description."""

from __future__ import annotations

import io
import json
import os
from collections.abc import Iterable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path, PurePosixPath
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mektel.core.kit import REST, SHOWN_STATES, Control, Kit, Label
from mektel.core.look import GroupLook, LabelLook, parse_flags, resolve, shared_margins
from mektel.core.look.parts import rgba
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

DENSITIES = (1, 2, 3)
FORMAT = 1
INDEX = "sprites.json"


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

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        why = {
            "label": "also left out of the -blank pictures, for text of your own",
            "lens": "its tint and rim; a picture cannot bend or blur what lies behind it",
        }
        return [
            LayerPlan(layer.name, "partly" if layer.kind == "lens" else "baked",
                      why.get(layer.kind, ""))
            for layer in control.layers
        ]

    def main_file(self, control: Control) -> PurePosixPath:
        return PurePosixPath(INDEX)

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        chosen = list(controls)
        # Compression runs beside Python: while one picture is packed the next one is drawn.
        with ThreadPoolExecutor(max_workers=max(2, os.cpu_count() or 2)) as pool:
            packed: list[Future[bytes]] = []

            def make(control: Control) -> tuple[list[Sprite], dict[str, Any]]:
                mine = []
                for sprite in _sprites(kit, control):
                    mine.append(sprite)
                    sprite.packed.append(pool.submit(png_of_straight, sprite.straight))
                return mine, _described(kit, control, mine)

            sprites: list[Sprite] = []
            told: dict[str, Any] = {}
            for control in chosen:
                mine, told[control.id] = make(control)
                sprites += mine
            for density in reversed(DENSITIES):
                batch = [sprite for sprite in sprites if sprite.density == density]
                packed.insert(0, pool.submit(png_of_straight, _sheet(batch, told)))
        atlases = [
            OutFile(PurePosixPath(f"atlas@{density}x.png"), content.result())
            for density, content in zip(DENSITIES, packed, strict=True)
        ]
        index = {"format": FORMAT, "kit": kit.name, "controls": told}
        text = json.dumps(index, indent=2, ensure_ascii=False) + "\n"
        return [
            OutFile(PurePosixPath(INDEX), text.encode(), "json"),
            *atlases,
            *(OutFile(sprite.path, sprite.packed[0].result()) for sprite in sprites),
            *font_files(chosen, PurePosixPath("fonts")),
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


def _sheet(sprites: list[Sprite], controls: dict[str, Any]) -> NDArray[np.uint8]:
    """All pictures of one density on one, where each lies written into ``controls``."""
    (width, height), places = pack([one.rgba.shape[1::-1] for one in sprites])
    sheet = np.zeros((height, width, 4), np.uint8)
    for sprite, (x, y) in zip(sprites, places, strict=True):
        h, w = sprite.rgba.shape[:2]
        sheet[y : y + h, x : x + w] = sprite.straight
        told = controls[sprite.control.id]["densities"][str(sprite.density)]
        told["regions"][sprite.key] = [x, y, w, h]
    return sheet


def _sprites(kit: Kit, control: Control) -> Iterator[Sprite]:
    margins = shared_margins(kit, control)
    labelled = any(isinstance(one, Label) for one in control.layers)
    for density in DENSITIES:
        for state in SHOWN_STATES:
            flags = SHIPPED_FLAGS.get(state) or parse_flags(state)
            full = resolve(kit, control, flags)
            if not labelled:
                picture = render(full, density, margins)
                yield Sprite(control, state, False, density, picture.rgba)
                continue
            empty = resolve(kit, control, flags, text="")
            drawn = tuple(one for one in empty.layers if not _is_empty_label(one))
            pair = render_both(replace(empty, layers=drawn), full, density, margins)
            for at, one in enumerate(pair):
                yield Sprite(control, state, at == 0, density, one.rgba)


def _is_empty_label(layer: object) -> bool:
    members = layer.members if isinstance(layer, GroupLook) else (layer,)
    return all(isinstance(one, LabelLook) and not one.text for one in members)


# A press by pointer is also a hover; that is the picture a game shows while pressed.
SHIPPED_FLAGS = {"pressed": frozenset({"hover", "pressed"})}


def _described(kit: Kit, control: Control, mine: list[Sprite]) -> dict[str, Any]:
    """What a game reads of a control; where its pictures lie on the sheets comes later."""
    margins = shared_margins(kit, control)
    plain = [s.rgba for s in mine if s.density == 1 and s.blank] or [
        s.rgba for s in mine if s.density == 1]
    by_hand = control.stretch is not None
    insets = control_insets(kit, control) if by_hand else insets_of(plain, margins)
    densities = {}
    for density in DENSITIES:
        batch = [sprite for sprite in mine if sprite.density == density]
        plain = [s.rgba for s in batch if s.blank] or [s.rgba for s in batch]
        zones = stretch_zones(plain)
        densities[str(density)] = {
            "atlas": f"atlas@{density}x.png",
            "regions": dict.fromkeys((s.key for s in batch), None),
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
        "states": list(SHOWN_STATES),
        "densities": densities,
    }
    labels = [one for one in resolve(kit, control).layers if isinstance(one, LabelLook)]
    if labels:
        colours = {}
        for state in SHOWN_STATES:
            part = control.part_in(labels[0].id, parse_flags(state) if state != REST else set())
            colours[state] = kit.colour(part.colour)
        label = labels[0]
        described["label"] = {
            "family": label.family, "weight": label.weight, "size": label.size,
            "pen": [round(label.x, 3), round(label.baseline, 3)], "colours": colours,
        }
    return described
