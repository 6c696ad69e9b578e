"""Qt Widgets: a package of one small module per control, on a runtime that they share."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path, PurePosixPath
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined

from mektel.core.kit import (
    Control,
    Glow,
    InnerGlow,
    InnerShadow,
    Kit,
    Shadow,
    combined_states,
    states_of,
)
from mektel.core.look import settled
from mektel.core.look.layout import following_text
from mektel.formats.png import pixels_from_png
from mektel.targets.base import (
    LayerPlan,
    OutFile,
    Progress,
    Shot,
    Taken,
    camel,
    font_files,
    with_lost,
)
from mektel.targets.driven import Shipped, shipped, widest_margins
from mektel.targets.members import members
from mektel.targets.qtwidgets.driving import (
    called,
    checks,
    formulas_source,
    hint,
    puts,
    size_sources,
    text_source,
    uses_size,
)
from mektel.targets.qtwidgets.literals import literal, pretty
from mektel.targets.qtwidgets.parts import (
    baked_reason,
    beneath_reason,
    glosses,
    has_paths,
    icon_commands,
    is_simple,
)
from mektel.targets.qtwidgets.running import run
from mektel.targets.qtwidgets.values import (
    Values,
    corners_of,
    is_isolated,
    number,
    values_of,
)

RUNTIME = Path(__file__).parent / "runtime"
PICTURES = PurePosixPath("pictures")
BASES = {"busy": "BusyControl", "hold": "HoldControl"}


class QtWidgets:
    id = "qtwidgets"
    title = "Qt Widgets"
    summary = "A package with a QAbstractButton subclass per control, in Python (PySide6)"
    taken = members(Path(__file__).parent / "members.txt")
    combines = True

    def own_files(self, control: Control) -> list[str]:
        return [str(self.main_file(control))]

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        kept, control = shipped(kit, control), settled(kit, control)
        if not kept.values:
            return with_lost(self._plan(kit, control), control, list(kept.lost))
        values = values_of(kit, control, kept, draw=False)
        _, lost = puts(control, kept, values.rest, values.changes)
        return with_lost(self._plan(kit, control), control, [*lost, *kept.lost])

    def _plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        plans: list[LayerPlan] = []
        for at, layer in enumerate(control.layers):
            parts = [control.part_in(layer.id, flags) for flags in combined_states(control.behaviour)]
            beneath = next((why for why in map(beneath_reason, parts) if why), "")
            why = next((w for part in parts if (w := baked_reason(control, part))), "")
            if beneath:
                plans = [LayerPlan(one.name, "baked", f"in one picture with “{layer.name}”",
                                   text_is_fixed=one.kind == "label")
                         for one in control.layers[:at]]
                plans.append(LayerPlan(layer.name, "baked", beneath,
                                       text_is_fixed=layer.kind == "label"))
            elif why:
                how = "baked" if layer.kind != "lens" else "partly"
                plans.append(LayerPlan(layer.name, how, why, differs=how == "partly"))
            elif isinstance(layer, Shadow | InnerShadow | Glow | InnerGlow):
                plans.append(LayerPlan(layer.name, *self._shadow_plan(control, layer)))
            else:
                plans.append(LayerPlan(layer.name, "native", self._note(control, layer)))
        return plans

    def _note(self, control: Control, layer: Any) -> str:
        own = getattr(layer, "outline", None) is not None and has_paths(control, layer.id)
        if getattr(layer, "dash", 0) > 0:
            return "its dashes stretch with the control"
        if (layer.kind == "gloss" and not glosses(control, layer.id)) or own or (
            layer.kind in ("fill", "line")
            and not all(is_simple(control, flags) for flags in combined_states(control.behaviour))
        ):
            return "its outline stretches with the control"
        return ""

    def _shadow_plan(self, control: Control, layer: Any) -> tuple[str, str]:
        if not any(control.part_in(layer.id, flags).blur
                   for flags in combined_states(control.behaviour)):
            return "native", ""
        return "baked", ("QPainter cannot blur; its corners are baked, others are worked out while "
                         "it runs; it takes any colour and size")

    def class_name(self, control: Control) -> str:
        name = camel(control.id)
        return name if name.endswith("Button") else f"{name}Button"

    def main_file(self, control: Control) -> PurePosixPath:
        name = control.id.replace("-", "_")
        return PurePosixPath(name if name.endswith("button") else f"{name}_button").with_suffix(
            ".py"
        )

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        chosen = list(controls)
        modules: list[OutFile] = []
        pictures: dict[PurePosixPath, OutFile] = {}
        uses_formulas = False
        for control in chosen:
            driven = shipped(kit, control)
            uses_formulas = uses_formulas or bool(called(driven))
            source, pngs = self._module(kit, control, driven)
            modules.append(OutFile(self.main_file(control), source.encode(), "python"))
            for name, png in pngs.items():
                path = PICTURES / name
                pictures[path] = OutFile(path, png)
        shared = [OutFile(PurePosixPath("__init__.py"), _package(self, kit, chosen), "python")]
        if uses_formulas:
            shared.append(OutFile(
                PurePosixPath("formulas.py"), formulas_source().encode(), "python"))
        shared += [OutFile(PurePosixPath("runtime") / path.name, path.read_bytes(), "python")
                   for path in sorted(RUNTIME.glob("*.py"))]
        fonts = font_files([settled(kit, one) for one in chosen], PurePosixPath("fonts"))
        return [*modules, *shared, *pictures.values(), *fonts]

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        module, name = self.main_file(control).stem, self.class_name(control)
        variable = control.id.replace("-", "_")
        given = "".join(
            f", {one.name}={literal(one.default) if one.type != 'action' else f'on_{variable}'}"
            for one in shipped(kit, control).parameters if one.required and one.name != "text")
        return (
            f"from controls.{module} import {name}\n\n"
            f"{variable} = {name}({literal(control.text)}{given})\n"
            f"{variable}.clicked.connect(on_{variable})\n"
            f"layout.addWidget({variable})\n",
            "python",
        )

    def _module(
        self, kit: Kit, control: Control, driven: Shipped
    ) -> tuple[str, dict[str, bytes]]:
        """A control's module, and the PNG files that it shows."""
        margins = widest_margins(kit, control)
        control = settled(kit, control)
        values = values_of(kit, control, driven)
        follow, _ = puts(control, driven, values.rest, values.changes)
        parameters = [one for one in driven.parameters if one.name != "text"]
        sizes, text = size_sources(driven), text_source(driven)
        fields, pngs = self._pictures(control, values)
        if is_isolated(values):
            fields["isolated"] = "True"
        if follow or sizes or text:
            fields["driven"] = "True"
        if uses_size(driven):
            fields["follows_size"] = "True"
        if any(one.names & {"parent_width", "parent_height"} for one in driven.values):
            fields["follows_parent"] = "True"
        if parameters:
            fields["parameters"] = pretty(checks(tuple(parameters)), 8)
        if driven.palette:
            fields["schemes"] = literal(driven.schemes)
        following, width, beside = following_text(control, control.text)
        if width:
            fields |= {"text_width": literal(number(width)), "beside": literal(number(beside))}
        if following:
            fields["following"] = literal(following)
        required = any(one.name == "text" and one.required for one in driven.parameters)
        source = _environment().get_template("module.py.j2").render(
            headline=f"{control.name}: a push button of the kit {kit.name}. Made by Mektel; needs "
                     "PySide6 only.",
            docstring=f"Push button “{control.name}”; signals of QAbstractButton, entered, left.",
            class_name=self.class_name(control), base=BASES.get(control.behaviour, "Control"),
            name=control.name, text=control.text, behaviour=control.behaviour,
            text_argument="str | None = None" if text else "str" if required
            else f"str = {literal(control.text)}",
            bleed=(margins.left, margins.top, margins.right, margins.bottom),
            size=tuple(number(side) for side in control.size),
            states=states_of(control.behaviour), values=values, fields=fields, follow=follow,
            parameters=parameters, hint=hint, icons=icon_commands(control, driven),
            palette=driven.palette, sizes=sizes, text_source=text, functions=called(driven),
        )
        return source, pngs

    def _pictures(
        self, control: Control, values: Values
    ) -> tuple[dict[str, str], dict[str, bytes]]:
        """The design's pictures and corners as source, and the PNG files that they name."""
        fields: dict[str, str] = {}
        pngs: dict[str, bytes] = {}
        distinct = list(dict.fromkeys(
            picture for by_state in values.pictures.values() for picture in by_state.values()))
        if distinct:
            lines = []
            for at, picture in enumerate(distinct):
                name = f"{self.main_file(control).stem}-{at}"
                for density, png in enumerate(picture.pngs, 1):
                    pngs[f"{name}@{density}x.png"] = png
                shown = (name, picture.place, picture.follows, picture.slices)
                lines.append(f"            runtime.Picture{literal(shown)},\n")
            fields["pictures"] = f"(\n{''.join(lines)}        )"
            fields["shown"] = pretty({
                part: {states: distinct.index(picture) for states, picture in by_state.items()}
                for part, by_state in values.pictures.items()}, 8)
        corners = corners_of(control)
        if corners:
            lines = []
            for key, corner in corners.items():
                name = f"corner-{'-'.join(f'{side:g}' for side in key)}.png"
                pngs[name] = corner.png
                lines.append(f"            {literal(key)}: runtime.Corner"
                             f"{literal((name, corner.reach))},\n")
            fields["corners"] = f"{{\n{''.join(lines)}        }}"
        return fields, pngs

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        """Each density runs in a Python process of its own, with Qt's offscreen platform."""
        taken: list[Taken] = []
        for scale in sorted({shot.scale for shot in shots}):
            batch = [shot for shot in shots if shot.scale == scale]
            with tempfile.TemporaryDirectory(prefix="mektel-shots-") as made:
                done = len(taken)
                run(kit, batch, Path(made), backdrop, scale,
                    lambda shot: (folder / self.main_file(shot.control),
                                  self.class_name(shot.control)),
                    lambda at, words, done=done: progress(  # type: ignore[misc]
                        done + at, len(shots), words))
                for at, shot in enumerate(batch):
                    pixels = pixels_from_png((Path(made) / f"{at}.png").read_bytes())
                    told = json.loads((Path(made) / f"{at}.json").read_text())
                    taken.append(Taken(shot, pixels, tuple(told["box"]), tuple(told["signals"]),
                                       tuple(told["hits"]), told["text"]))
        return taken


def _package(target: QtWidgets, kit: Kit, controls: list[Control]) -> bytes:
    """The package's own file: its controls by name, each imported when it is first asked for."""
    names = {target.class_name(control): target.main_file(control).stem for control in controls}
    return _environment().get_template("package.py.j2").render(
        headline=f"Controls of the kit {kit.name}. Made by Mektel; needs PySide6 only.",
        names=names).encode()


@lru_cache(maxsize=1)
def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent), undefined=StrictUndefined,
        keep_trailing_newline=True, trim_blocks=True, lstrip_blocks=True, autoescape=False,
    )
    environment.filters |= {"literal": literal, "pretty": pretty}
    return environment
