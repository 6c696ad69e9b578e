"""Web: a standard custom element around a real ``<button>``, with CSS for every state."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from pathlib import Path, PurePosixPath
from types import MappingProxyType
from typing import Any

from markupsafe import escape

from mektel.core.kit import Control, Kit
from mektel.targets.answering import sound_files
from mektel.targets.base import (
    LayerPlan,
    OutFile,
    Pixels,
    Progress,
    Shot,
    Taken,
    camel,
    font_files,
)
from mektel.targets.conduct import Observed, Trial
from mektel.targets.instrument import draw, plan
from mektel.targets.members import members
from mektel.targets.motion import MotionShot
from mektel.targets.sheet import Sheet, sheet_of
from mektel.targets.web import conduct
from mektel.targets.web.element import element_source, environment, required_attributes
from mektel.targets.web.filming import film_in_chromium
from mektel.targets.web.instrument import WebInstrument
from mektel.targets.web.motion import JUMPS, jumping_parts, motion_plan
from mektel.targets.web.package import declarations, manifest, package
from mektel.targets.web.runner import shoot_in_chromium

RUNTIME, MODULE_RUNTIME = PurePosixPath("runtime.js"), PurePosixPath("runtime.mjs")
RUNTIME_FOLDER = Path(__file__).parent / "runtime"
RUNTIME_PARTS = ("formulas.js", "design.js", "layers.js", "forms.js", "motion.js", "answers.js",
                 "follow.js", "sizes.js", "button.js")


SIGNALS = MappingProxyType({
    "entered": "pointerenter", "left": "pointerleave", "pressed": "pointerdown",
    "released": "pointerup", "clicked": "click", "checked": "change", "unchecked": "change",
    "longPressed": "longpress"})


class Web:
    id = "web"
    title = "Web element"
    summary = "A custom element per control, plain JavaScript and CSS"
    taken = members(Path(__file__).parent / "members.txt")
    signals = SIGNALS
    takes_arguments = True
    keeps_places = False

    def own_files(self, control: Control) -> list[str]:
        tag = self.tag(control)
        return [str(self.main_file(control)), f"{tag}.mjs", f"{tag}.d.mts"]

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        sheet = sheet_of(kit, control)
        web = WebInstrument(sheet)
        plans = plan(sheet, web)
        pictures = [entry.part for entry in plans if entry.how in ("baked", "partly")]
        jumping = jumping_parts(sheet, draw(sheet, web, pictures=False), pictures)
        plans = [replace(entry, why="; ".join(filter(None, (entry.why, JUMPS))))
                 if entry.part in jumping else entry for entry in plans]
        return plans + motion_plan(sheet)

    def tag(self, control: Control) -> str:
        return control.id if control.id.endswith("-button") else f"{control.id}-button"

    def main_file(self, control: Control) -> PurePosixPath:
        return PurePosixPath(f"{self.tag(control)}.js")

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        chosen = list(controls)
        sheets = [sheet_of(kit, control) for control in chosen]
        files = [
            OutFile(self.main_file(control), element_source(
                sheet, self.tag(control), str(self.main_file(control))).encode(), "javascript")
            for control, sheet in zip(chosen, sheets, strict=True)]
        for control, sheet in zip(chosen, sheets, strict=True):
            tag, name = self.tag(control), camel(self.tag(control))
            module = element_source(sheet, tag, f"{tag}.mjs", name)
            files += [OutFile(PurePosixPath(f"{tag}.mjs"), module.encode(), "javascript"),
                      OutFile(PurePosixPath(f"{tag}.d.mts"), declarations(
                          sheet, tag, name).encode(), "typescript")]
        page = environment().get_template("demo.html.j2").render(
            kit=kit.name, runtime=str(RUNTIME),
            controls=[
                {"file": str(self.main_file(control)), "tag": self.tag(control),
                 "glass": any(part.kind == "lens" for part in sheet.layers),
                 "text": control.text, "attributes": required_attributes(sheet),
                 "actions": [parameter.name for parameter in sheet.required
                             if parameter.type == "action"]}
                for control, sheet in zip(chosen, sheets, strict=True)])
        fonts = font_files({font for sheet in sheets for font in sheet.fonts},
                           PurePosixPath("fonts"))
        tags = {self.tag(control): sheet for control, sheet in zip(chosen, sheets, strict=True)}
        return [*files, OutFile(RUNTIME, runtime().encode(), "javascript"),
                OutFile(MODULE_RUNTIME, runtime(module=True).encode(), "javascript"),
                OutFile(PurePosixPath("package.json"), package(kit.name, tags).encode(), "json"),
                OutFile(PurePosixPath("custom-elements.json"), manifest(tags).encode(), "json"),
                OutFile(PurePosixPath("index.html"), page.encode(), "html"), *fonts,
                *sound_files(sheets)]

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        tag = self.tag(control)
        return (
            f'<script src="{RUNTIME}"></script>\n'
            f'<script src="{self.main_file(control)}"></script>\n\n'
            f'<{tag} id="{control.id}"{required_attributes(sheet_of(kit, control))}>'
            f"{escape(control.text)}</{tag}>\n"
            f"<script>\n"
            f"  document.getElementById(\"{control.id}\").addEventListener(\"click\", act);\n"
            f"</script>\n",
            "html",
        )

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        return shoot_in_chromium(kit, shots, folder, backdrop, progress, self)

    def expected(self, sheet: Sheet, trial: Trial) -> Mapping[str, Any]:
        return conduct.expected(sheet, trial)

    def observe(
        self, kit: Kit, trials: Sequence[Trial], folder: Path, backdrop: str, progress: Progress
    ) -> list[Observed]:
        return conduct.observe(kit, trials, folder, backdrop, progress, self)

    def film(
        self, kit: Kit, shots: list[MotionShot], folder: Path, backdrop: str, progress: Progress
    ) -> list[list[Pixels]]:
        return film_in_chromium(kit, shots, folder, backdrop, progress, self)


@lru_cache(maxsize=2)
def runtime(module: bool = False) -> str:
    """What all elements share, as it is shipped beside them: a plain script, or an ES module."""
    sources = ((RUNTIME_FOLDER / name).read_text(encoding="utf-8") for name in RUNTIME_PARTS)
    lines = [line.removeprefix("export ") for source in sources for line in source.splitlines()
             if not line.startswith(("import ", "/** @import"))]
    joined = "\n".join(lines)
    if module:
        return f"{joined}\n\nexport {{ define, formulas }};\n"
    shared = ("const shared = (globalThis.mektelControls ??= {});\n"
              "shared.define ??= define;\nshared.formulas ??= formulas;")
    return f'(() => {{\n"use strict";\n{joined}\n\n{shared}\n}})();\n'
