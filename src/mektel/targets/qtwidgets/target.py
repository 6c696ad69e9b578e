"""Qt Widgets: one self-contained Python module per control, drawn with QPainter."""

from __future__ import annotations

import base64
import json
import math
import os
import subprocess
import sys
import tempfile
import textwrap
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path, PurePosixPath
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined

from mektel.core.kit import BODY, STATES, Control, InnerShadow, Kit, Shadow, value_names
from mektel.core.look import shared_margins
from mektel.core.look.look import SIGMAS
from mektel.core.paint.blur import blurred_coverage
from mektel.core.shape import outline_for
from mektel.core.text import font_file
from mektel.formats.png import mask_png_bytes, pixels_from_png
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
)

RUNNER = Path(__file__).parent / "runner" / "run_controls.py"
# A blur this smooth needs no more pixels; a finer one gets them.
SMOOTH_SIGMA = 4.0


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

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        plans = []
        for layer in control.layers:
            if isinstance(layer, Shadow | InnerShadow):
                plans.append(LayerPlan(layer.name, *self._shadow_plan(control, layer)))
            else:
                plans.append(LayerPlan(layer.name, "native"))
        return plans

    def _shadow_plan(self, control: Control, layer: Shadow | InnerShadow) -> tuple[str, str]:
        parts = [control.part_in(layer.id, flags) for flags in _conditions(control)]
        if not any(part.blur for part in parts):
            return "native", ""
        forms = {body_shape(control, flags)[0] for flags in _conditions(control)}
        width, height = control.size
        why = "QPainter cannot blur; its corners are baked, it takes colour and size"
        if "ellipse" in forms:
            why += f", near but not exact at other sizes than {width:g} × {height:g}"
        elif "capsule" in forms:
            side = f"heights other than {height:g}" if height <= width else (
                f"widths other than {width:g}")
            why += f", near but not exact at {side}"
        return "baked", why

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
        return files + font_files(chosen, PurePosixPath("fonts"))

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        module, name = self.main_file(control).stem, self.class_name(control)
        variable = control.id.replace("-", "_")
        return (
            f"from controls.{module} import {name}\n\n"
            f"{variable} = {name}({_literal(control.text)})\n"
            f"{variable}.clicked.connect(on_{variable})\n"
            f"layout.addWidget({variable})\n",
            "python",
        )

    def _module(self, kit: Kit, control: Control) -> str:
        margins = shared_margins(kit, control)
        rest = {BODY: _values(kit, control, BODY, frozenset())} | {
            layer.id: {"kind": layer.kind, **_values(kit, control, layer.id, frozenset())}
            for layer in control.layers
        }
        changes: dict[str, Any] = {}
        for state in STATES:
            for part_id, stored in control.changes(state).items():
                values = _values(kit, control, part_id, frozenset({state}))
                kept = {name: values[name] for name in values if name in stored}
                if "weight" in stored:
                    kept["font"] = values["font"]
                if kept:
                    changes.setdefault(state, {})[part_id] = kept
        title = f"{control.name}: a push button of the kit {kit.name}."
        return _environment().get_template("module.py.j2").render(
            headline=f"{title} Made by Mektel; needs PySide6 only.",
            docstring=f"Push button “{control.name}”; signals of QAbstractButton, entered, left.",
            bleed=(margins.left, margins.top, margins.right, margins.bottom),
            size=[_number(side) for side in control.size],
            rest=rest,
            changes=changes,
            shadows=self._shadows(control),
            reach=SIGMAS / 2,
            class_name=self.class_name(control),
            text=control.text,
        )

    def _shadows(self, control: Control) -> dict[tuple[Any, ...], Baked]:
        """Every corner that a blurred shadow has in any state, by its radii and blur."""
        found = {}
        for flags in _conditions(control):
            form, radii = body_shape(control, flags)
            a, b, c, d = radii
            box = outline_for(form, (a, b, c, d), *control.size)
            for layer in control.layers:
                part = control.part_in(layer.id, flags)
                if not isinstance(part, Shadow | InnerShadow) or not part.blur:
                    continue
                shape = box.grown(part.spread if isinstance(part, Shadow) else -part.spread)
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
                    taken.append(Taken(shot, pixels, tuple(told["box"]), tuple(told["signals"])))
        return taken

    def _run(
        self, kit: Kit, batch: list[Shot], folder: Path, out: Path, backdrop: str, scale: int,
        report: Any,
    ) -> None:
        jobs = [
            {
                "file": str(folder / self.main_file(shot.control)),
                "class": self.class_name(shot.control),
                "state": shot.state, "text": shot.text,
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
        with process:
            for line in process.stdout:
                if line.startswith("shot ") and not report(
                    int(line.split()[1]), f"{batch[0].control.name} in Qt"
                ):
                    process.kill()
                    raise CancelledError("Stopped; the run in Qt was not finished.")
            fault = process.stderr.read()
        if process.returncode:
            last = fault.strip().splitlines()[-1] if fault.strip() else "no message"
            raise TargetError(f"The control did not run in Qt: {last}")


def _environment_for_qt(scale: int) -> dict[str, str]:
    foreign = ("QT_", "PYTHON")
    kept = {key: value for key, value in os.environ.items() if not key.startswith(foreign)}
    return kept | {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": str(scale)}


def _conditions(control: Control) -> list[frozenset[str]]:
    """Every set of states that can hold at once."""
    live = [state for state in STATES if state != "disabled"]
    combined = [
        frozenset(live[at] for at in range(len(live)) if number >> at & 1)
        for number in range(2 ** len(live))
    ]
    return [*combined, frozenset({"disabled"})]


def body_shape(control: Control, flags: frozenset[str]) -> tuple[str, tuple[float, ...]]:
    body = control.part_in(BODY, flags)
    return body.form, body.radii


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


def _values(kit: Kit, control: Control, part_id: str, flags: frozenset[str]) -> dict[str, Any]:
    """A part's values as the module holds them: plain, colours as Qt reads them."""
    part = control.part_in(part_id, flags)
    found: dict[str, Any] = {}
    for name in value_names(part):
        value = getattr(part, name)
        if name == "colour":
            value = qt_colour(kit.colour(value))
        elif name == "stops":
            value = [(_number(stop.position), qt_colour(kit.colour(stop.colour))) for stop in value]
        elif isinstance(value, tuple):
            value = tuple(_number(one) for one in value)
        elif isinstance(value, float):
            value = _number(value)
        found[name] = value
    if part_id != BODY and part.kind == "label":
        found["font"] = font_file(part.family, part.weight).name
    return found


def qt_colour(colour: str) -> str:
    """Qt writes alpha first: #AARRGGBB."""
    return f"#{colour[7:9]}{colour[1:7]}" if len(colour) == 9 else colour


def _number(value: float) -> float | int:
    return int(value) if float(value).is_integer() else round(value, 4)


def _string(text: str) -> str:
    """Text as a Python string literal: whatever it holds, it can only ever be that."""
    escapes = {'"': '\\"', "\\": "\\\\", "\n": "\\n"}
    letters = [
        escapes.get(letter) or (letter if letter.isprintable() else ascii(letter)[1:-1])
        for letter in text
    ]
    return f'"{"".join(letters)}"'


def _literal(value: Any) -> str:
    """A plain value as Python source."""
    if isinstance(value, str):
        return _string(value)
    if isinstance(value, tuple):
        return f"({', '.join(map(_literal, value))}{',' if len(value) == 1 else ''})"
    if isinstance(value, list):
        return f"[{', '.join(map(_literal, value))}]"
    if isinstance(value, dict):
        return f"{{{', '.join(f'{_literal(k)}: {_literal(v)}' for k, v in value.items())}}}"
    return repr(value)


def _pretty(value: dict[str, Any], indent: int = 0) -> str:
    """A dict of dicts as source, unfolded where a line would grow too long."""
    short = _literal(value)
    if len(short) + indent < 80 and indent:
        return short
    pad = " " * (indent + 4)
    lines = []
    for key, inner in value.items():
        text = _pretty(inner, indent + 4) if isinstance(inner, dict) else _literal(inner)
        lines.append(f"{pad}{_literal(key)}: {text},")
    return "{\n" + "\n".join(lines) + "\n" + " " * indent + "}" if lines else "{}"


@lru_cache(maxsize=1)
def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent), undefined=StrictUndefined,
        keep_trailing_newline=True, trim_blocks=True, lstrip_blocks=True, autoescape=False,
    )
    environment.filters |= {
        "literal": _literal, "pretty": _pretty, "chunks": lambda text: textwrap.wrap(text, 88),
    }
    return environment
