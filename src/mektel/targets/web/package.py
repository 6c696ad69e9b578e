"""What editors, type checkers and bundlers read of a kit's elements."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from typing import Any

from mektel.core.kit import Parameter
from mektel.core.kit.parameters import NUMERIC
from mektel.targets.base import camel
from mektel.targets.sheet import Sheet
from mektel.targets.web.literals import literal, one_line

TYPES = {"yes-no": "boolean", "action": "((event: Event) => void) | null", "colours": "string[]",
         **dict.fromkeys(NUMERIC, "number")}


def _properties(sheet: Sheet) -> dict[str, tuple[str, str]]:
    """The type and the description of every property by name."""
    every = {"label": ("string", "The text."), "disabled": ("boolean", "")}
    if "checked" in sheet.states:
        every["checked"] = ("boolean", "Whether it is on.")
    if sheet.behaviour == "busy":
        every["busy"] = ("boolean", "While busy it answers no press.")
    if sheet.palette:
        every["scheme"] = (" | ".join(map(literal, sheet.schemes)), "The palette's scheme.")
    for parameter in sheet.parameters:
        if parameter.name != "text":
            every[parameter.name] = _type(parameter), parameter.description
    return every


def _type(parameter: Parameter) -> str:
    if parameter.allowed:
        return " | ".join(map(literal, parameter.allowed))
    return TYPES.get(parameter.type, "string")


def declarations(sheet: Sheet, tag: str, class_name: str) -> str:
    """The types of an element's module."""
    lines = []
    for name, (kind, text) in _properties(sheet).items():
        if text:
            lines.append(f"  /** {one_line(text).replace('*/', '* /')} */")
        lines.append(f"  {name}: {kind};")
    members = "\n".join(lines)
    return (
        f"// {one_line(sheet.name)}: an element of the kit {one_line(sheet.kit_name)}. "
        "Made by Mektel.\n"
        f"export declare class {class_name} extends HTMLElement {{\n{members}\n"
        "  argument(name: string): unknown;\n"
        "  setArgument(name: string, value: unknown): void;\n}\n"
        f"export default {class_name};\n\n"
        "declare global {\n  interface HTMLElementTagNameMap {\n"
        f"    {literal(tag)}: {class_name};\n  }}\n}}\n")


def manifest(sheets: Mapping[str, Sheet]) -> str:
    """A Custom Elements Manifest (schema 1.0.0) of elements by tag."""
    return _json({"schemaVersion": "1.0.0", "modules": [
        {"kind": "javascript-module", "path": f"{tag}.mjs",
         "declarations": [_declaration(tag, sheet)],
         "exports": [
             {"kind": "js", "name": name, "declaration": {"name": camel(tag)}}
             for name in (camel(tag), "default")
         ] + [{"kind": "custom-element-definition", "name": tag,
               "declaration": {"name": camel(tag)}}]}
        for tag, sheet in sheets.items()]})


def _declaration(tag: str, sheet: Sheet) -> dict[str, Any]:
    properties = _properties(sheet)
    actions = {parameter.name for parameter in sheet.parameters if parameter.type == "action"}
    events = ["click", *(["change"] if "checked" in sheet.states else []),
              *(["longpress"] if sheet.behaviour == "long-press" else [])]
    return {
        "kind": "class", "customElement": True, "tagName": tag, "name": camel(tag),
        "description": sheet.name, "superclass": {"name": "HTMLElement"},
        "members": [{"kind": "field", "name": name, "type": {"text": kind}, "description": text}
                    for name, (kind, text) in properties.items()],
        "attributes": [{"name": name.replace("_", "-"), "fieldName": name, "type": {"text": kind}}
                       for name, (kind, _) in properties.items() if name not in actions],
        "events": [{"name": name, "type": {"text": "Event"}} for name in events],
        "cssParts": [{"name": part.name, "description": part.title} for part in sheet.layers],
        "slots": [{"name": "", "description": "The text."}],
    }


def package(kit_name: str, sheets: Mapping[str, Sheet]) -> str:
    """A package.json with an entry for each element."""
    name = re.sub(r"[^a-z0-9]+", "-", kit_name.lower()).strip("-") or "controls"
    return _json({
        "name": name, "version": "1.0.0", "private": True, "sideEffects": True,
        "customElements": "custom-elements.json",
        "exports": {f"./{tag}": {"types": f"./{tag}.d.mts", "default": f"./{tag}.mjs"}
                    for tag in sheets},
    })


def _json(data: Any) -> str:
    return json.dumps(data, indent=2, ensure_ascii=False) + "\n"
