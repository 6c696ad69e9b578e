"""What a new target takes: one that fills plain shapes itself and has pictures of all else."""

from __future__ import annotations

import io
import json
from base64 import b64decode, b64encode
from collections.abc import Iterable
from pathlib import Path, PurePosixPath
from typing import Any

import numpy as np
from PIL import Image, ImageDraw

from mektel.core.kit import OUTLINE, Control, Kit
from mektel.core.look.primitives import is_plain
from mektel.core.look.scene import rgba
from mektel.core.paint import on_backdrop
from mektel.core.shape import polygons
from mektel.formats.png import premultiplied
from mektel.targets.baking import BakedPicture
from mektel.targets.base import NO_SIGNALS, LayerPlan, OutFile, Progress, Shot, Taken
from mektel.targets.instrument import Groups, Instrument, draw, plan
from mektel.targets.sheet import Flags, Part, PartState, Written, sheet_of
from mektel.targets.verify import verify
from tests.slices import some_of

FINER = 4  # samples each way within a pixel


class ToyInstrument(Instrument):
    def reason(self, part: Part) -> str:
        plain = part.kind == "fill" and all(
            state.values.style == "solid" and is_plain(state.values) for state in part.distinct)
        return "" if plain else "a toy fills shapes in one colour"

    def reason_beneath(self, part: Part) -> str:
        blends = any(state.values.blend != "normal" for state in part.distinct)
        return "a toy blends nothing" if blends else ""

    def merged(self, flags: Flags, picture: BakedPicture | None) -> Groups:
        return {"beneath": self._laid(picture)}

    def outline(self, state: PartState) -> Groups:
        return {OUTLINE: {"opacity": state.values.opacity}}

    def fill(self, state: PartState) -> Groups:
        dx, dy = state.values.move
        rings = polygons(state.drawn.outline) if state.drawn is not None else []
        return {state.part.name: {
            "rings": [[(x + dx, y + dy) for x, y in ring] for ring in rings],
            "colour": state.values.colour, "opacity": state.values.opacity,
            "visible": state.values.visible}}

    def picture(self, state: PartState, picture: BakedPicture | None) -> Groups:
        return {state.part.name: self._laid(picture)}

    def _laid(self, picture: BakedPicture | None) -> dict[str, Any]:
        if picture is None:
            return {"png": "", "visible": False}
        return {"png": b64encode(picture.pngs[0]).decode(), "at": picture.place[:2],
                "visible": True}

    # Never played: there is always a reason for a picture instead.
    shadow = inner_shadow = line = gloss = strokes = shape = label = group = fill


class ToyTarget:
    id, title, summary = "toy", "Toy", "JSON that a few lines of Python draw"
    taken: frozenset[str] = frozenset()
    signals = NO_SIGNALS
    takes_arguments = False
    keeps_places = False

    def own_files(self, control: Control) -> list[str]:
        return [str(self.main_file(control))]

    def main_file(self, control: Control) -> PurePosixPath:
        return PurePosixPath(f"{control.id}.json")

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        sheet = sheet_of(kit, control)
        return plan(sheet, ToyInstrument(sheet))

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        found = []
        for control in controls:
            sheet = sheet_of(kit, control)
            drawing = draw(sheet, ToyInstrument(sheet))
            text = json.dumps({
                "size": sheet.size, "order": ["beneath", *(part.name for part in sheet.layers)],
                "margins": [sheet.margins.left, sheet.margins.top,
                            sheet.margins.right, sheet.margins.bottom],
                "states": {"+".join(sorted(flags)): drawing.total(flags) for flags in sheet.sets}})
            found.append(OutFile(self.main_file(control), text.encode(), "json"))
        return found

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        return f"drawn(json.load(open('{self.main_file(control)}')), {{'hover'}})", "python"

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        taken = []
        for shot in shots:
            data = json.loads((folder / self.main_file(shot.control)).read_text())
            pixels = on_backdrop(drawn(data, shot.flags), rgba(Written, backdrop))
            taken.append(Taken(shot, pixels, (*data["margins"][:2], *data["size"])))
        return taken


def drawn(data: dict[str, Any], flags: Iterable[str]) -> np.ndarray:
    """A state of a shipped control as premultiplied pixels."""
    (left, top, right, bottom), (wide, high) = data["margins"], data["size"]
    width, height = round(left + wide + right), round(top + high + bottom)
    whole = Image.new("RGBA", (width, height))
    parts = data["states"]["+".join(sorted(flags))]
    for name in data["order"]:
        part = parts.get(name, {"visible": False})
        if not part["visible"]:
            continue
        layer = Image.new("RGBA", (width, height))
        if "png" in part:
            picture = Image.open(io.BytesIO(b64decode(part["png"]))).convert("RGBA")
            layer.paste(picture, (part["at"][0] + left, part["at"][1] + top))
        else:
            mask = Image.new("L", (width * FINER, height * FINER))
            for ring in part["rings"]:
                ImageDraw.Draw(mask).polygon([
                    ((x + left) * FINER - 0.5, (y + top) * FINER - 0.5) for x, y in ring], fill=255)
            red, green, blue, alpha = (round(255 * one) for one in rgba(Written, part["colour"]))
            layer.paste((red, green, blue, alpha), (0, 0, width, height))
            cover = np.asarray(mask.resize((width, height), Image.Resampling.BOX), float)
            share = cover / 255 * alpha * part["opacity"]
            layer.putalpha(Image.fromarray(share.round().astype(np.uint8)))
        whole = Image.alpha_composite(whole, layer)
    pixels = premultiplied(np.asarray(whole)).astype(float) * parts[OUTLINE]["opacity"]
    return np.asarray(pixels.round(), np.uint8)


def test_a_target_of_these_few_lines_ships_every_demo_control(demo_kit: Kit) -> None:
    target = ToyTarget()
    plans = [one.how for control in demo_kit.controls for one in target.plan(demo_kit, control)]
    assert {"native", "baked"} <= set(plans) and plans.count("native") > 5
    for match in verify(demo_kit, some_of(demo_kit.controls, 3), target, scale=1):
        assert match.full.whole.mean < 1.0 and match.same_box, (match.control, match.state)
    here = Path(__file__).read_text().partition("\ndef test_")[0]
    assert len(here.splitlines()) < 150
