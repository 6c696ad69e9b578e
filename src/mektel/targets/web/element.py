"""A control's file: its design, with what of it is worked out, for the runtime to make an element.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from markupsafe import Markup, escape

from mektel.core.drawings import icon_paths
from mektel.targets.answering import content_names
from mektel.targets.sheet import CALLED, Part, Sheet
from mektel.targets.web.answering import draws_marks, runtime_answers
from mektel.targets.web.expressions import called, js_of
from mektel.targets.web.fonts import font_faces
from mektel.targets.web.instrument import WebInstrument
from mektel.targets.web.labels import sets_otherwise
from mektel.targets.web.literals import literal, one_line, template
from mektel.targets.web.motion import most_stops
from mektel.targets.web.outlines import is_round
from mektel.targets.web.stylesheet import style_sheet, styled_parameters

SIZES = ("width", "height", "parent_width", "parent_height")


def element_source(sheet: Sheet, tag: str, file: str, class_name: str = "") -> str:
    """A control's file: a plain script, or with the name of its class an ES module."""
    css, web = style_sheet(sheet)
    text_part = sheet.text_part
    parameters = [parameter for parameter in sheet.parameters if parameter.name != "text"]
    properties = list(web.properties.values())
    text = sheet.text_driver
    fields = _fields(sheet, web, tag, text_part)
    functions = {*called(sheet.driven), *(
        name for name in ("finite", "stops_of")
        if any(f"{name}(" in entry.source for entry in properties))}
    return environment().get_template("element.js.j2").render(
        headline=one_line(
            f"{sheet.name}: {CALLED[sheet.behaviour]} of the kit {sheet.kit_name}."),
        file=file, tag=tag, module=bool(class_name), class_name=class_name,
        text_comment=one_line(str(escape(sheet.text))),
        behaviour=sheet.behaviour, checkable="checked" in sheet.states,
        parts=[part.name for part in sheet.layers], parameters=parameters,
        schemes=sheet.schemes if sheet.palette else (), functions=sorted(functions),
        sounds=sorted({answer.sound for answer in sheet.answers if answer.kind == "sound"}),
        fields=fields, text_source=js_of(text.tree) if text else "",
        texts=[entry for entry in properties if entry.kind == "text"],
        files=[entry for entry in properties if entry.kind == "file"],
        properties=[entry for entry in properties if entry.kind != "text"],
        layers=_layers(sheet, web, text_part), fonts=font_faces(sheet), css=css,
    )


def _fields(
    sheet: Sheet, web: WebInstrument, tag: str, text_part: Part | None
) -> dict[str, Any]:
    """What of the design is plain data."""
    fields: dict[str, Any] = {
        "tag": tag, "name": sheet.name, "text": sheet.text, "behaviour": sheet.behaviour,
        "size": sheet.size}
    if not is_round(sheet.outline.rest.values):
        fields["hit"] = True
    parameters = {
        parameter.name: {
            "type": parameter.type,
            "default": parameter.default,
            "required": parameter.required,
            "min": parameter.min,
            "max": parameter.max,
            "choices": parameter.allowed,
        }
        for parameter in sheet.parameters
        if parameter.name != "text"
    }
    if parameters:
        fields["parameters"] = parameters
    if sheet.palette:
        fields |= {"schemes": sheet.schemes, "palette": sheet.palette,
                   "lightAndDark": sheet.light_and_dark}
    if styled := styled_parameters(sheet):
        fields["styled"] = styled
    if any(parameter.name == "text" for parameter in sheet.required):
        fields["textRequired"] = True
    if text_part is not None and text_part.rest.values.flow == "fit":
        fields["fits"] = text_part.name
    if repeats := [part.name for part in sheet.layers if _repeats(part, text_part)]:
        fields["repeats"] = repeats
    if text_part is not None and sheet.following:
        fields["textWidth"] = round(sheet.text_width, 3)
    if sheet.moves:
        fields["moves"] = True
    if stops := most_stops(sheet):
        fields["stops"] = stops
    if answers := runtime_answers(sheet, web.reason_still):
        fields["answers"] = answers
    if sheet.uses(*SIZES):
        fields["followsSize"] = True
    if sheet.uses("parent_width", "parent_height"):
        fields["followsParent"] = True
    return fields


def _repeats(part: Part, text_part: Part | None) -> bool:
    """Whether a state sets the control's text in letters that do not stand there at rest."""
    if part.kind != "label" or part.host:
        return False
    if part is text_part:
        return any(map(sets_otherwise, part.states.values()))
    return part.rest.values.text is not None and any(
        state.values.text is None for state in part.states.values())


def _layers(
    sheet: Sheet, web: WebInstrument, text_part: Part | None, host: str = ""
) -> list[dict[str, Any]]:
    """The layers' elements, those of an embedded look within the layer that embeds it."""
    layers = []
    for part in sheet.layers:
        if part.host != host:
            continue
        layer: dict[str, Any] = {"part": part.name}
        if part is text_part:
            layer["slot"] = True
        elif part.kind == "label":
            layer["text"] = part.rest.values.text or ""
        elif part.kind == "icon" and not web.reason(part):
            # A single path: lines of a translucent colour do not show where they cross.
            paths = (path if path[0] == "M" else f"M0 0{path}"
                     for path in icon_paths(part.rest.values.icon))
            layer["paths"] = [" ".join(paths)]
        elif part.kind == "look":
            layer["layers"] = _layers(sheet, web, text_part, part.name)
        if not host and part.name in content_names(sheet)[:1]:
            layers += _marks(sheet)
        layers.append(layer)
    if not host and not content_names(sheet):
        layers += _marks(sheet)
    return layers


def _marks(sheet: Sheet) -> list[dict[str, Any]]:
    """What holds the marks that answers draw: within the outline, and beyond it."""
    beyond = any(answer.kind == "ripple" and not answer.within for answer in sheet.answers)
    kinds = ["marks", "beyond"] if beyond else ["marks"]
    return [{"marks": kind} for kind in kinds] if draws_marks(sheet) else []


def required_attributes(sheet: Sheet) -> Markup:
    """Attributes for every argument that has to be given, with its sample."""
    attributes = Markup("")
    for parameter in sheet.required:
        if parameter.name != "text" and parameter.type != "action":
            value = (
                " ".join(parameter.default)
                if isinstance(parameter.default, tuple)
                else parameter.default
            )
            attributes += Markup(' {}="{}"').format(
                parameter.name.replace("_", "-"),
                f"{value:g}" if isinstance(value, float) else value,
            )
    return attributes


@lru_cache(maxsize=1)
def environment() -> Environment:
    made = Environment(
        loader=FileSystemLoader(Path(__file__).parent),
        undefined=StrictUndefined,
        keep_trailing_newline=True,
        trim_blocks=True,
        lstrip_blocks=True,
        auto_reload=False,
        autoescape=lambda name: bool(name and ".html" in name),
    )
    made.filters |= {"js": literal, "line": one_line, "template": template}
    return made
