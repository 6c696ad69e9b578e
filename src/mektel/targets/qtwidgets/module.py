"""A control's module: its values, what of them it works out, and the PNG files that it shows."""

from __future__ import annotations

import math
import runpy
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import Any, cast

from jinja2 import Environment, FileSystemLoader, StrictUndefined

from mektel.core.kit import OUTLINE, Parameter
from mektel.core.kit.parameters import NUMERIC
from mektel.formats.png import smallest_png
from mektel.targets.baking import BakedPicture
from mektel.targets.instrument import Drawing, Groups, States, draw
from mektel.targets.qtwidgets.expressions import called, checks, hint, python_of
from mektel.targets.qtwidgets.instrument import Followed, QtInstrument, icon_commands, number
from mektel.targets.qtwidgets.literals import Name, literal, pretty, side_by_side
from mektel.targets.qtwidgets.motion import feel_source, timings_source
from mektel.targets.sheet import CALLED, Sheet

DEFAULTS = Path(__file__).parent / "runtime" / "defaults.py"
# Points of polygons that stand apart.
MANY = 10
BASES = {"busy": "BusyControl", "long-press": "LongPressControl"}


@dataclass(frozen=True)
class FollowedValue:
    """One line of the module's table: in these states, this part's value at this path."""

    states: States
    part: str
    path: tuple[str | int, ...]
    source: str

    @property
    def row(self) -> str:
        """The line, broken where it is too long."""
        place = ", ".join(map(literal, (self.states, self.part, self.path)))
        break_ = " " if len(place) + len(self.source) < 76 else "\n             "
        return f"({place},{break_}lambda: {self.source})"


@dataclass
class Values:
    """A drawing as plain values, and apart from them what is worked out and what is shown."""

    rest: Groups
    changes: dict[States, Groups]
    followed: list[FollowedValue] = field(default_factory=list)
    pictures: list[BakedPicture] = field(default_factory=list)
    # Polygons, and areas of the control that several layers or states have.
    rings: list[Any] = field(default_factory=list)
    areas: list[dict[str, Any]] = field(default_factory=list)


def values_of(drawing: Drawing, source_of: Callable[[Followed], str]) -> Values:
    """Pictures become numbers; what is driven, its value by default and a line of the table."""
    result = Values({}, {})

    def plain(value: Any, states: States, part: str, path: tuple[str | int, ...]) -> Any:
        if isinstance(value, Followed):
            result.followed.append(FollowedValue(states, part, path, source_of(value)))
            return value.now
        if isinstance(value, BakedPicture):
            if value not in result.pictures:
                result.pictures.append(value)
            return result.pictures.index(value)
        if isinstance(value, dict):
            return {key: plain(inner, states, part, (*path, key)) for key, inner in value.items()}
        if isinstance(value, tuple | list):
            made = [plain(inner, states, part, (*path, at)) for at, inner in enumerate(value)]
            return made if isinstance(value, list) else tuple(made)
        return value

    def group(values: dict[str, Any], states: States, part: str) -> dict[str, Any]:
        made = {name: plain(value, states, part, (name,)) for name, value in values.items()}
        return made if states else {
            name: value for name, value in made.items() if value is not None}

    result.rest = {part: group(values, (), part) for part, values in drawing.rest.items()}
    result.changes = {
        states: {part: group(values, states, part) for part, values in groups.items()}
        for states, groups in drawing.changes.items()}
    parts = [part for parts in (result.rest, *result.changes.values()) for part in parts.values()]
    result.areas = _shared_areas(parts)
    result.rings = _rings_apart(parts)
    return result


def _rings_apart(groups: Sequence[dict[str, Any]]) -> list[Any]:
    """Polygons of many points, and a name for each in its place."""
    apart: list[Any] = []
    for group in groups:
        for holder in (group, group.get("own_box")):
            shape = holder.get("shape") if isinstance(holder, dict) else None
            if shape is None:
                continue
            for by, rings in shape["rings"].items():
                if isinstance(rings, Name) or sum(map(len, rings)) < MANY:
                    continue
                if rings not in apart:
                    apart.append(rings)
                shape["rings"][by] = Name(f"RINGS[{apart.index(rings)}]")
    return apart


def _shared_areas(groups: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Areas that are written more than once; in their places stands a name for each."""
    uses = Counter(repr(value) for group in groups for value in group.values()
                   if isinstance(value, dict))
    names: dict[str, Name] = {}
    shared = []
    for group in groups:
        for entry, value in group.items():
            if uses[key := repr(value)] > 1:
                if key not in names:
                    names[key] = Name(f"AREAS[{len(names)}]")
                    shared.append(value)
                group[entry] = names[key]
    return shared


def values_in(values: Values) -> dict[str, set[str]]:
    """The names of all values that a part has in any state."""
    names: dict[str, set[str]] = {}
    for parts in (values.rest, *values.changes.values()):
        for part, group in parts.items():
            names.setdefault(part, set()).update(group)
    return names


def is_isolated(values: Values) -> bool:
    """Whether layers must be blended among themselves, or the control is faded as one."""
    every = [values.rest, *values.changes.values()]
    return any((part.get("blend") or "normal") != "normal" for parts in every
               for part in parts.values()) or any(
        part.get("opacity", 1) != 1 for parts in every
        for name, part in parts.items() if name == OUTLINE)


def module_source(
    sheet: Sheet, class_name: str, stem: str
) -> tuple[str, dict[str, bytes]]:
    """The module, and the PNG files that it shows by name; ``stem`` is the module's name."""
    instrument = QtInstrument(sheet)
    palette = sheet.palette
    values = values_of(draw(sheet, instrument), lambda value: value.wrap.format(
        python_of(value.driver.tree, palette)))
    parameters = [parameter for parameter in sheet.parameters if parameter.name != "text"]
    sizes = {axis: python_of(driver.tree) for axis, driver in sheet.size_drivers.items()}
    text = python_of(sheet.text_driver.tree) if sheet.text_driver else ""
    fields, pngs = _pictures(sheet, values, stem)
    flags = {
        "isolated": is_isolated(values),
        "driven": bool(values.followed or sizes or text),
        "follows_size": any(driver.names & {"width", "height"} for driver in sheet.driven
                            if driver.part != "control"),
        "follows_parent": sheet.uses("parent_width", "parent_height"),
    }
    fields |= {name: "True" for name, holds in flags.items() if holds}
    if parameters:
        fields["parameters"] = pretty(checks(parameters), 8, 8 + len("parameters="))
    timings, rows = timings_source(sheet, values_in(values))
    if feel := feel_source(sheet, instrument, rows):
        fields["feel"] = feel
    if palette:
        fields["schemes"] = literal(sheet.schemes)
    if sheet.text_width:
        fields |= {"text_width": literal(number(sheet.text_width)),
                   "beside": literal(number(sheet.beside))}
    if sheet.following:
        fields["following"] = literal(sheet.following)
    if sheet.required:
        fields["required"] = literal(tuple(parameter.name for parameter in sheet.required))
    if not stretches(sheet):
        fields["stretches"] = "False"
    if any(over := overhang(sheet)):
        fields["overhang"] = literal(over)
    values.rest = {name: _unusual(name, part) for name, part in values.rest.items()}
    source = environment().get_template("module.py.j2").render(
        headline=f"{sheet.name}: {CALLED[sheet.behaviour]} of the kit {sheet.kit_name}. Made by "
                 "Mektel.",
        docstring=f"The control “{sheet.name}”; signals of QPushButton, entered, left.",
        class_name=class_name, base=BASES.get(sheet.behaviour, "Control"),
        arguments=_arguments(sheet, fields), values=values, parameters=parameters,
        signature=_signature(parameters),
        given=_passed(parameters, of_actions=False), actions=_passed(parameters, of_actions=True),
        icons=_icons(sheet, values), palette=palette, timings=timings, sizes=sizes,
        text_source=text, functions=called([sheet]), signals=_signals(sheet, parameters),
    )
    return source, pngs


def _unusual(name: str, part: dict[str, Any]) -> dict[str, Any]:
    """A part's values at rest without those that the runtime knows."""
    usual = _usual()(part.get("kind", name))
    return {value: given for value, given in part.items()
            if value not in usual or given != usual[value]}


@lru_cache(maxsize=1)
def _usual() -> Callable[[str], dict[str, Any]]:
    """The runtime's own table: its package cannot be imported without Qt."""
    return cast(Callable[[str], dict[str, Any]], runpy.run_path(str(DEFAULTS))["usual"])


def overhang(sheet: Sheet) -> tuple[int, ...]:
    """How far the outline at rest reaches beyond the box, in whole px: left, top, right, bottom."""
    outline, (width, height) = sheet.shape(frozenset()), sheet.size
    beyond = (-outline.x, -outline.y, outline.x + outline.width - width,
              outline.y + outline.height - height)
    return tuple(max(0, math.ceil(reach - 0.01)) for reach in beyond)


def stretches(sheet: Sheet) -> bool:
    """Whether a layout may make the control wider than it asks for: a label has room to spare; a
    circle, a switch or a picture keeps its proportions.
    """
    label = any(part.kind == "label" for part in sheet.layers)
    return label and sheet.behaviour != "two-position" and (
        sheet.outline.rest.values.form != "ellipse")


def _arguments(sheet: Sheet, fields: dict[str, str]) -> list[str]:
    """The arguments of a design as source, several to a line."""
    margins = sheet.widest_margins
    every = {
        "name": literal(sheet.name), "text": literal(sheet.text),
        "behaviour": literal(sheet.behaviour), "files": "Path(__file__).parent",
        "size": literal(tuple(number(side) for side in sheet.size)),
        "bleed": literal((margins.left, margins.top, margins.right, margins.bottom)),
        "states": literal(sheet.states), "rest": "REST", "changes": "CHANGES"} | fields
    lines: list[str] = []
    for name, value in every.items():
        argument = f"{name}={value}"
        if lines and "\n" not in lines[-1] + value and len(lines[-1]) + len(argument) < 89:
            lines[-1] += f", {argument}"
        else:
            lines.append(argument)
    return lines


def _signature(parameters: Sequence[Parameter]) -> list[str]:
    """The arguments of the constructor that are the control's own, as source."""
    entries = [
        f"{parameter.name}: {hint(parameter)} | None = None"
        if parameter.required or parameter.type == "action"
        else f"{parameter.name}: {hint(parameter)} = {literal(parameter.default)}"
        for parameter in parameters]
    return [f"{line}," for line in side_by_side([*entries, "**properties: Any"], 88)]


def _passed(parameters: Sequence[Parameter], of_actions: bool) -> str:
    """Arguments by name, as source."""
    return pretty({parameter.name: Name(parameter.name) for parameter in parameters
                   if (parameter.type == "action") == of_actions}, 8)


def _signals(sheet: Sheet, parameters: Sequence[Parameter]) -> dict[str, str]:
    """The type that a parameter's change signal carries; none where its name is taken."""
    taken = {parameter.name for parameter in parameters}
    carried = {"yes-no": "bool", "colour": "object", "colours": "list",
               **dict.fromkeys(NUMERIC, "float")}
    return {parameter.name: carried.get(parameter.type, "str") for parameter in parameters
            if parameter.type != "action" and f"{parameter.name}Changed" not in taken}


def _pictures(
    sheet: Sheet, values: Values, stem: str
) -> tuple[dict[str, str], dict[str, bytes]]:
    """The design's pictures and corners as source, and the PNG files that they name."""
    fields: dict[str, str] = {}
    pngs: dict[str, bytes] = {}
    if values.pictures:
        lines = []
        names: dict[tuple[bytes, ...], str] = {}
        for at, picture in enumerate(values.pictures):
            name = names.setdefault(picture.pngs, f"{stem}-{at}")
            for density, png in enumerate(picture.pngs, 1):
                pngs[f"{name}@{density}x.png"] = smallest_png(png)
            follows = tuple(number(share) for share in picture.follows)
            shown = (name, picture.place, follows, picture.slices)
            lines.append(f"            runtime.Picture{literal(shown)},\n")
        fields["pictures"] = f"(\n{''.join(lines)}        )"
    return fields, pngs


def _icons(sheet: Sheet, values: Values) -> dict[str, str]:
    """The drawings of every icon that a parameter may choose from."""
    wanted: set[str] = set()
    driven = [driver for driver in sheet.driven if driver.path == "icon"]
    if any(driver.path[0] == "commands" for driver in values.followed):
        for driver in driven:
            wanted |= {name for p in sheet.parameters if p.type == "icon" and p.name in driver.names
                       for name in (*p.choices, str(p.default))}
            wanted.add(sheet.part(driver.part).rest.values.icon)
    return {name: icon_commands(name) for name in sorted(wanted)}


def package_source(kit_name: str, modules: dict[str, str]) -> str:
    """The package's own file: its controls by name, each imported when it is first asked for."""
    return environment().get_template("package.py.j2").render(
        headline=f"Controls of the kit {kit_name}. Made by Mektel; needs PySide6 or PyQt6.",
        entries=side_by_side([f"{literal(name)}: {literal(stem)}"
                              for name, stem in modules.items()], 94))


def designer_source(kit_name: str, module: str) -> str:
    """What Qt Designer loads to show a package's controls; ``module`` is a file that only this
    package has.
    """
    return environment().get_template("designer.py.j2").render(kit_name=kit_name, module=module)


def required_arguments(sheet: Sheet, action: str) -> str:
    """Arguments for every parameter that has to be given, with its sample."""
    return "".join(
        f", {parameter.name}={literal(parameter.default) if parameter.type != 'action' else action}"
        for parameter in sheet.required if parameter.name != "text")


@lru_cache(maxsize=1)
def environment() -> Environment:
    made = Environment(
        loader=FileSystemLoader(Path(__file__).parent), undefined=StrictUndefined,
        keep_trailing_newline=True, trim_blocks=True, lstrip_blocks=True, autoescape=False,
        auto_reload=False,
    )
    made.filters |= {
        "literal": literal, "pretty": pretty, "docstring": lambda text: literal(text)[1:-1]}
    return made

