"""SVG: a drawing per state for documents and pages, and one that answers the pointer by itself."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path, PurePosixPath
from typing import Any

from mektel.core.kit import CONTROL, OUTLINE, REST, Control, Kit
from mektel.formats.svg.writing import drawing_of
from mektel.targets.answering import answers_plan
from mektel.targets.base import NO_SIGNALS, LayerPlan, OutFile, Progress, Shot, Taken
from mektel.targets.instrument import STILL, with_lost
from mektel.targets.sheet import Part, sheet_of
from mektel.targets.svg.answering import answering_drawing, canvas
from mektel.targets.svg.running import shoot_drawings

FIXED = "it is written with the defaults"
LETTERS = "its letters are outlines: another text needs another export"
PICTURES = {
    "bevel": "SVG has no light on edges", "picture": "it is a picture",
    "lens": "its tint and rim; SVG cannot bend or blur what lies behind it"}


class SvgTarget:
    id = "svg"
    title = "SVG"
    summary = "A drawing of every state, and one that answers the pointer by CSS"
    taken: frozenset[str] = frozenset()
    signals = NO_SIGNALS
    takes_arguments = False
    keeps_places = True

    def own_files(self, control: Control) -> list[str]:
        return [f"{control.id}.svg", f"{control.id}/"]

    def main_file(self, control: Control) -> PurePosixPath:
        return PurePosixPath(f"{control.id}.svg")

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        sheet = sheet_of(kit, control)
        plans = with_lost([_plan(part) for part in sheet.layers], [
            (driver, FIXED) for driver in sheet.driven if driver.part not in (OUTLINE, CONTROL)])
        return [*plans, *answers_plan(sheet, lambda _: STILL)]

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        files: list[OutFile] = []
        for control in controls:
            sheet = sheet_of(kit, control)
            files.append(OutFile(self.main_file(control), answering_drawing(sheet).encode(), "xml"))
            for state in (REST, *sheet.states):
                flags = frozenset() if state == REST else frozenset({state})
                text = drawing_of(sheet.look(flags), f"{sheet.name}, {state}", canvas(sheet))
                files.append(OutFile(
                    PurePosixPath(control.id) / f"{state}.svg", text.encode(), "xml"))
        return files

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        return (
            f'<img src="{control.id}/rest.svg" alt="{control.id}">\n'
            f"<!-- Or paste {control.id}.svg into the page: it answers the pointer and the focus;\n"
            "     aria-disabled, aria-checked and aria-busy set the other states. -->\n",
            "html",
        )

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        return shoot_drawings(shots, folder, backdrop, progress, self.main_file)


def _plan(part: Part) -> LayerPlan:
    why = "; ".join(dict.fromkeys(filter(None, (_why(state.values) for state in part.distinct))))
    how = "native" if not why else "partly" if part.kind == "lens" else "baked"
    if part.kind == "label":
        why = "; ".join(filter(None, [why, LETTERS]))
        return LayerPlan(part.title, "partly", why, text_is_fixed=True, part=part.name)
    return LayerPlan(part.title, how, why, part=part.name)


def _why(values: Any) -> str:
    """Why a layer is a picture in a drawing, by its values; empty where it is not."""
    if values.kind in PICTURES:
        return PICTURES[values.kind]
    style = getattr(values, "style", "solid")
    if style == "conic":
        return "SVG has no conic gradients"
    if style != "solid" and getattr(values, "origin", 0) > 0:
        return "its gradient is repeated beyond its own box"
    if style == "radial" and values.spread != "pad" and values.stops[0].position:
        return "SVG repeats circles only from their centre"
    return ""
