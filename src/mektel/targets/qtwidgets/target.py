"""Qt Widgets: one self-contained Python module per control, drawn with QPainter."""

from __future__ import annotations

import base64
import json
import math
import os
import re
import subprocess
import sys
import tempfile
import textwrap
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path, PurePosixPath
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined

from mektel.core.kit import (
    BODY,
    REST,
    STATES,
    Control,
    Glow,
    InnerGlow,
    InnerShadow,
    Kit,
    Shadow,
    combined_states,
    in_order,
    states_of,
)
from mektel.core.look import settled, whose
from mektel.core.look.holding import MARK
from mektel.core.look.layout import following_text
from mektel.core.look.look import SIGMAS
from mektel.core.look.outlines import box_of
from mektel.core.paint.blur import blurred_coverage
from mektel.core.shape import outline_for
from mektel.formats.png import mask_png_bytes, pixels_from_png
from mektel.targets.baked import BakedPicture, bake
from mektel.targets.base import (
    CancelledError,
    LayerPlan,
    OutFile,
    Progress,
    Shot,
    Taken,
    TargetError,
    camel,
    font_files,
    with_lost,
)
from mektel.targets.driven import Shipped, shipped, widest_margins
from mektel.targets.members import members
from mektel.targets.qtwidgets.driving import (
    checks,
    helpers,
    hint,
    puts,
    size_sources,
    text_source,
    uses_size,
)
from mektel.targets.qtwidgets.literals import literal, one_line, pretty
from mektel.targets.qtwidgets.parts import (
    BLENDS,
    BLURRED,
    baked_reason,
    beneath_reason,
    glosses,
    has_paths,
    icon_commands,
    is_simple,
    part_values,
    qt_value,
)

RUNNER = Path(__file__).parent / "runner" / "run_controls.py"
# A blur this smooth needs no more pixels; a finer one gets them.
SMOOTH_SIGMA = 4.0
# The part that stands for all layers baked into one picture.
BENEATH = "=beneath"


@dataclass(frozen=True)
class Baked:
    """What a blurred box loses at a rounded corner: pixels per px, reach in px, PNG as base64."""

    density: int
    reach: int
    png: str


class QtWidgets:
    id = "qtwidgets"
    title = "Qt Widgets"
    summary = "A QAbstractButton subclass per control, in Python (PySide6)"
    taken = members(Path(__file__).parent / "members.txt")
    combines = True

    def own_files(self, control: Control) -> list[str]:
        return [str(self.main_file(control))]

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        kept, control = shipped(kit, control), settled(kit, control)
        if not kept.values:
            return with_lost(self._plan(kit, control), control, list(kept.lost))
        rest, changes, _ = self._data(kit, control, kept, draw=False)
        _, lost = puts(control, kept, rest, changes)
        return with_lost(self._plan(kit, control), control, [*lost, *kept.lost])

    def _plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        plans: list[LayerPlan] = []
        for at, layer in enumerate(control.layers):
            parts = [control.part_in(layer.id, flags) for flags in combined_states(control.kind)]
            beneath = next((why for why in map(beneath_reason, parts) if why), "")
            why = next((w for part in parts if (w := baked_reason(control, part))), "")
            if beneath:
                plans = [LayerPlan(one.name, "baked", f"in one picture with “{layer.name}”")
                         for one in control.layers[:at]]
                plans.append(LayerPlan(layer.name, "baked", beneath))
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
            and not all(is_simple(control, flags) for flags in combined_states(control.kind))
        ):
            return "its outline stretches with the control"
        return ""

    def _shadow_plan(self, control: Control, layer: Any) -> tuple[str, str]:
        if not any(control.part_in(layer.id, flags).blur
                   for flags in combined_states(control.kind)):
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
        files = [
            OutFile(self.main_file(control), self._module(kit, control).encode(), "python")
            for control in chosen
        ]
        return files + font_files([settled(kit, one) for one in chosen], PurePosixPath("fonts"))

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

    def _module(self, kit: Kit, control: Control) -> str:
        margins = widest_margins(kit, control)
        driven, control = shipped(kit, control), settled(kit, control)
        rest, changes, pictures = self._data(kit, control, driven)
        follow, _ = puts(control, driven, rest, changes)
        ordered = {flags: changes.get(flags, {})
                   for _, held in in_order(tuple({*control.states, *(
                       one.condition for one in driven.values if one.condition != REST)}))
                   if (flags := _key(held)) in changes or any(
                       one.states == flags for one in follow)}
        title = f"{control.name}: a push button of the kit {kit.name}."
        return _environment().get_template("module.py.j2").render(
            headline=f"{title} Made by Mektel; needs PySide6 only.",
            docstring=f"Push button “{control.name}”; signals of QAbstractButton, entered, left.",
            bleed=(margins.left, margins.top, margins.right, margins.bottom),
            size=[_number(side) for side in control.size],
            rest=rest,
            changes=ordered,
            follow=follow,
            helpers=helpers(driven),
            parameters=[one for one in driven.parameters if one.name != "text"],
            text_required=any(one.name == "text" and one.required for one in driven.parameters),
            checks=checks(tuple(one for one in driven.parameters if one.name != "text")),
            hint=hint,
            icons=icon_commands(control, driven),
            follows_size=uses_size(driven),
            follows_parent=any(one.names & {"parent_width", "parent_height"}
                               for one in driven.values),
            sizes=size_sources(driven),
            rest_name="self._rest" if follow or size_sources(driven) else "REST",
            changes_name="self._changes" if follow or size_sources(driven) else "CHANGES",
            text_source=text_source(driven),
            files=any(put.path == ("file",) for put in follow),
            following=following_text(control, control.text)[0],
            text_width=_number(following_text(control, control.text)[1]),
            beside=_number(following_text(control, control.text)[2]),
            palette=driven.palette,
            modes=driven.modes,
            order=states_of(control.kind),
            kind=control.kind,
            shadows=self._shadows(control),
            pictures=pictures,
            distinct=list(dict.fromkeys(
                picture for by_state in pictures.values() for picture in by_state.values())),
            blends=BLENDS,
            uses=_uses(rest, changes),
            reach=SIGMAS / 2,
            class_name=self.class_name(control),
            text=control.text,
            name=control.name,
        )

    def _data(self, kit: Kit, control: Control, driven: Shipped, draw: bool = True) -> tuple[
        dict[str, Any], dict[Any, Any], dict[str, dict[tuple[str, ...], BakedPicture]]
    ]:
        """Parts at rest, what states change in them, and the pictures of those that are baked;
        without pictures and changes where nothing is to be drawn.
        """
        pictures_of = self._pictures if draw else _no_pictures
        everything = combined_states(control.kind)
        merged = 0  # so many layers from the back are one picture
        for at, layer in enumerate(control.layers):
            if any(beneath_reason(control.part_in(layer.id, flags)) for flags in everything):
                merged = at + 1
        while merged and merged < len(control.layers) and MARK in control.layers[merged].id and (
                whose(control.layers[merged].id) == whose(control.layers[merged - 1].id)):
            merged += 1  # what a look holds stays together
        rest: dict[str, Any] = {}
        changes: dict[Any, Any] = {}
        pictures: dict[str, dict[tuple[str, ...], BakedPicture]] = {}
        ids = [BODY, *(layer.id for layer in control.layers[merged:])]
        if merged:
            beneath = [layer.id for layer in control.layers[:merged]]
            rest[BENEATH] = {"kind": "baked", "visible": True, "opacity": 1}
            pictures[BENEATH] = pictures_of(kit, control, beneath)
        for part_id in ids:
            parts = [control.part_in(part_id, flags) for flags in everything]
            if part_id != BODY and any(baked_reason(control, part) for part in parts):
                rest[part_id] = {"kind": "baked", "visible": True, "opacity": 1}
                if all(part.kind in BLURRED for part in parts):
                    # One colour through a mask: it is tinted when drawn, and can be changed.
                    pictures[part_id] = self._masks(
                        kit, control, part_id, rest, changes, pictures_of)
                    continue
                if any(part.blend != "normal" for part in parts):
                    rest[part_id]["blend"] = parts[0].blend
                pictures[part_id] = pictures_of(kit, control, [part_id])
                continue
            varied = {name for changed in control.states.values()
                      for name in changed.get(part_id, {})}
            varied |= {one.path.split(".")[0] for one in driven.of(part_id)}
            rest[part_id] = part_values(kit, control, part_id, frozenset(), varied)
            for condition, flags in in_order(tuple(control.states)) if draw else ():
                alone = control.only(condition)
                values = part_values(kit, alone, part_id, flags, varied)
                own = control.states[condition].get(part_id, {}) if len(flags) > 1 else {}
                kept = {n: v for n, v in values.items() if v != rest[part_id].get(n) or n in own}
                if kept:
                    changes.setdefault(_key(flags), {})[part_id] = kept
        if BENEATH in rest:
            rest = {BODY: rest.pop(BODY), **rest}
        return rest, changes, pictures

    def _masks(
        self, kit: Kit, control: Control, part_id: str, rest: dict[str, Any],
        changes: dict[Any, Any], pictures_of: Callable[..., dict[tuple[str, ...], BakedPicture]],
    ) -> dict[tuple[str, ...], BakedPicture]:
        """White pictures of a layer, shown or not; its colour and fading stay values."""
        names = ("visible", "opacity", "blend", "colour")
        part = control.part_in(part_id, frozenset())
        values = {name: qt_value(kit, name, getattr(part, name)) for name in names}
        rest[part_id] |= values
        for condition, flags in in_order(tuple(control.states)):
            part = control.only(condition).part_in(part_id, flags)
            kept = {name: value for name in names
                    if (value := qt_value(kit, name, getattr(part, name))) != values[name]}
            if kept:
                changes.setdefault(_key(flags), {})[part_id] = kept
        white = control.model_copy(update={
            "layers": tuple(
                one.model_copy(update={"colour": "#FFFFFF", "visible": True, "opacity": 1.0})
                if one.id == part_id else one for one in control.layers),
            "states": {
                state: {one: {n: v for n, v in found.items() if one != part_id or n not in names}
                        for one, found in changed.items()}
                for state, changed in control.states.items()},
        })
        return pictures_of(kit, white, [part_id])

    def _pictures(
        self, kit: Kit, control: Control, layer_ids: list[str]
    ) -> dict[tuple[str, ...], BakedPicture]:
        found = {}
        for flags in combined_states(control.kind):
            picture = bake(kit, control, layer_ids, flags)
            if picture is not None:
                found[_key(flags)] = picture
        return found

    def _shadows(self, control: Control) -> dict[tuple[Any, ...], Baked]:
        """Every corner that a blurred shadow has in any state, by its radii and blur."""
        found = {}
        for flags in combined_states(control.kind):
            body = control.part_in(BODY, flags)
            for layer in control.layers:
                part = control.part_in(layer.id, flags)
                if (not isinstance(part, Shadow | InnerShadow | Glow | InnerGlow) or not part.blur
                        or has_paths(control, layer.id)):
                    continue
                form, (width, height) = part.outline or body, control.size
                if part.outline is not None:
                    _, _, width, height = box_of(part.outline, width, height)
                box = outline_for(form.form, form.radii, width, height, form.radii_y)
                outward = isinstance(part, Shadow | Glow)
                shape = box.grown(part.spread if outward else -part.spread)
                for rx, ry in zip(shape.rx, shape.ry, strict=True):
                    if rx > 0 and ry > 0:
                        key = (_number(rx), _number(ry), _number(part.blur))
                        found[key] = bake_corner(rx, ry, part.blur)
        return found

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        """Each density runs in a Python process of its own, with Qt's offscreen platform."""
        taken: list[Taken] = []
        for scale in sorted({shot.scale for shot in shots}):
            batch = [shot for shot in shots if shot.scale == scale]
            with tempfile.TemporaryDirectory(prefix="mektel-shots-") as made:
                done = len(taken)
                self._run(kit, batch, folder, Path(made), backdrop, scale,
                          lambda at, words, done=done: progress(done + at, len(shots), words))
                for at, shot in enumerate(batch):
                    pixels = pixels_from_png((Path(made) / f"{at}.png").read_bytes())
                    told = json.loads((Path(made) / f"{at}.json").read_text())
                    taken.append(Taken(shot, pixels, tuple(told["box"]), tuple(told["signals"]),
                                       tuple(told["hits"]), told["text"]))
        return taken

    def _run(
        self, kit: Kit, batch: list[Shot], folder: Path, out: Path, backdrop: str, scale: int,
        report: Any,
    ) -> None:
        jobs = [
            {
                "file": str(folder / self.main_file(shot.control)),
                "class": self.class_name(shot.control),
                "state": shot.state, "text": shot.text, "places": shot.places,
                "then": dict(shot.arguments),
                "arguments": {
                    one.name: one.default for one in shipped(kit, shot.control).parameters
                    if one.required and one.type != "action"},
                "actions": [one.name for one in shot.control.parameters
                            if one.required and one.type == "action"],
            }
            for shot in batch
        ]
        (out / "jobs.json").write_text(json.dumps({"backdrop": backdrop, "jobs": jobs}))
        process = subprocess.Popen(
            [sys.executable, str(RUNNER), str(out)],
            env=_environment_for_qt(scale), stdout=subprocess.PIPE, stderr=subprocess.PIPE,
            text=True,
        )
        assert process.stdout and process.stderr
        at = 0
        with process:
            for line in process.stdout:
                if not line.startswith("shot "):
                    continue
                at = int(line.split()[1])
                if not report(at, f"{batch[min(at, len(batch) - 1)].control.name} in Qt"):
                    process.kill()
                    raise CancelledError("Stopped; the run in Qt was not finished.")
            fault = process.stderr.read()
        if process.returncode:
            shot = batch[min(at, len(batch) - 1)]
            raise TargetError(f"{shot.control.name}, {shot.state}: it did not run in Qt: "
                              f"{_exception_in(fault)}")


def _exception_in(fault: str) -> str:
    """The exception that ended a process, from what it wrote; Qt's own warnings come after it."""
    lines = [line for line in fault.strip().splitlines() if line.strip()]
    raised = [line for line in lines if re.match(r"[\w.]*(Error|Exception|Warning)\b", line)]
    return (raised or lines or ["no message"])[-1]


def _no_pictures(_kit: Kit, _control: Control, _layer_ids: list[str]) -> dict[
        tuple[str, ...], BakedPicture]:
    """What a plan needs of pictures: none."""
    return {}


def _key(flags: frozenset[str]) -> tuple[str, ...]:
    """A set of states as the module names it."""
    return tuple(state for state in STATES if state in flags)


def _environment_for_qt(scale: int) -> dict[str, str]:
    foreign = ("QT_", "PYTHON")
    kept = {key: value for key, value in os.environ.items() if not key.startswith(foreign)}
    return kept | {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": str(scale)}


def _uses(rest: dict[str, Any], changes: dict[Any, Any]) -> set[str]:
    """Which parts of the template a control needs."""
    parts = [
        {**rest[part_id], **state.get(part_id, {})} for state in ({}, *changes.values())
        for part_id in rest
    ]
    found: set[str] = set()
    for part in parts:
        kind, paths = part.get("kind", ""), part.get("paths", {})
        shadowed = part.get("shadow_colour", "#00000000")[:3] != "#00"
        found |= {name for name, holds in {
            "blend": part.get("blend", "normal") != "normal"
            or (not kind and part.get("opacity", 1) < 1), "paths": bool(paths),
            "baked": kind == "baked", "group": kind == "group", "own box": "own_box" in part,
            "within": "within" in part, "gloss": kind == "gloss", "strokes": kind == "strokes",
            "radial": part.get("style") == "radial", "conic": part.get("style") == "conic",
            "soft": shadowed and part.get("shadow_blur", 2) > 0,
            "stroker": part.get("edge", 0) > 0,
            "text effects": part.get("edge", 0) > 0 or shadowed
            or part.get("relief", "flat") != "flat",
        }.items() if holds}
    if "text effects" in found:
        found.add("stroker")
    return found


@lru_cache(maxsize=256)
def bake_corner(rx: float, ry: float, blur: float) -> Baked:
    """The top left corner: the blur of what its arc cuts off a sharp box."""
    sigma = blur / 2
    density = max(2, min(3, math.ceil(SMOOTH_SIGMA / sigma)))
    reach = math.ceil(sigma * SIGMAS)
    far = 2 * (max(rx, ry) + 2 * reach)  # the other corners are out of the blur's reach
    sharp = outline_for("box", (0, 0, 0, 0), far, far)
    round_ = replace(sharp, rx=(rx, 0, 0, 0), ry=(ry, 0, 0, 0))
    columns, rows = round((rx + 2 * reach) * density), round((ry + 2 * reach) * density)
    masks = [
        blurred_coverage(one.moved(reach, reach).scaled(density), sigma * density, columns, rows)
        for one in (sharp, round_)
    ]
    png = base64.b64encode(mask_png_bytes(masks[0] - masks[1])).decode()
    return Baked(density, reach, png)


def _number(value: float) -> float | int:
    return int(value) if float(value).is_integer() else round(value, 4)


def _base64(content: bytes) -> str:
    return base64.b64encode(content).decode()


@lru_cache(maxsize=1)
def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent), undefined=StrictUndefined,
        keep_trailing_newline=True, trim_blocks=True, lstrip_blocks=True, autoescape=False,
    )
    environment.filters |= {
        "literal": literal, "line": one_line, "pretty": pretty,
        "chunks": lambda text: textwrap.wrap(text, 88),
        "base64": _base64,
    }
    return environment
