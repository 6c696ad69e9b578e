"""Kits of earlier formats as data of the present one.

Each step works on plain data that nobody has checked yet: what is not of the form that the format
has is left as it is, for the reading that follows to name.
"""

from __future__ import annotations

import io
import tokenize
from collections.abc import Callable
from typing import Any

Data = dict[str, Any]
# Value names of layers, by what they were called in format 1.
VALUES_1 = {"asset": "picture", "insets": "slices", "pixels_per_px": "density",
            "leading": "line_height", "within": "box"}
# In format 1 the outline was the part ``body``, and a layer could be called ``outline``.
PARTS_1 = {"body": "outline"}
# Those that changed since format 2.
VALUES_2 = {"radii": "corners", "radii_y": "vertical_radii", "waist": "inner_radius",
            "grow": "expand", "angle": "direction", "at": "position"}
FUNCTIONS_3 = {"fade": "translucent"}


def migrated(data: Data) -> Data:
    """A kit of any earlier format as one of the present format."""
    for version, step in STEPS.items():
        if data.get("format") == version:
            data = step(data)
    return data


def _from_1(data: Data) -> Data:
    """Format 2 has the field's words: outline, behaviour, values, schemes, min and max."""
    kit = _renamed(data, {"figures": "values", "modes": "schemes"}) | {"format": 2}
    for name in ("palette", "values"):
        kit = _each(kit, name, lambda entry: _renamed(entry, {"modes": "schemes"}))
    layer_id = _free_layer_id(data)
    return _each(kit, "controls", lambda control: _control_1(control, layer_id))


def _control_1(control: Data, layer_id: str) -> Data:
    """A control, or what one derived from another differs in: there lists are keyed by name."""
    parts = {**PARTS_1, "outline": layer_id}
    made = _renamed(control, {"body": "outline", "kind": "behaviour", "stretch": "slices"})
    made = _at(made, "outline", _outline_1)
    made = _at(made, "content", lambda content: _at(
        _renamed(content, {"least": "min", "most": "max"}), "items",
        lambda items: [_part_1(item, layer_id) for item in items]
        if isinstance(items, list) else items))
    made = _each(made, "parameters", lambda entry: _renamed(entry, {"low": "min", "high": "max"}))
    made = _each(made, "layers", lambda layer: _values_1(
        {**layer, "id": layer_id} if layer.get("id") == "outline" else layer))
    if isinstance(made.get("layers"), dict):
        made["layers"] = _renamed(made["layers"], {"outline": layer_id})
    if isinstance(made.get("layers in order"), list):
        made["layers in order"] = [_part_1(part, layer_id) for part in made["layers in order"]]
    for name, change in (("states", _values_1), ("formulas", _formulas_1(layer_id))):
        made = _each(made, name, lambda by_part, change=change: {  # type: ignore[misc]
            part: change(values) if isinstance(values, dict) else values
            for part, values in _renamed(by_part, parts).items()})
    return _at(made, "differs", lambda differs: _control_1(differs, layer_id)
               if isinstance(differs, dict) else differs)


def _part_1(part: Any, layer_id: str) -> Any:
    return layer_id if part == "outline" else part


def _values_1(values: Data) -> Data:
    return _outline_1(_at(_renamed(values, VALUES_1), "outline", _outline_1))


def _outline_1(outline: Any) -> Any:
    if not isinstance(outline, dict):
        return outline
    return _each(outline, "joins", lambda join: _renamed(join, {"how": "operation"}))


def _formulas_1(layer_id: str) -> Callable[[Data], Data]:
    """Formulas of a part by the path of the value that they drive."""
    def change(formulas: Data) -> Data:
        renamed = {}
        for path, text in formulas.items():
            first, *rest = path.split(".")
            new = ".".join([VALUES_1.get(first, first), *rest]).replace(".how", ".operation")
            renamed[new] = _text_1(text, layer_id) if isinstance(text, str) else text
        return renamed

    return change


def _text_1(text: str, layer_id: str) -> str:
    """A formula with parts and values under their new names."""
    parts = {"body": "outline", "outline": layer_id.replace("-", "_")}
    return _reworded(text, VALUES_1, parts, {})


def _reworded(
    text: str, fields: dict[str, str], parts: dict[str, str], plain: dict[str, str],
    functions: dict[str, str] | None = None,
) -> str:
    """A formula in which fields, parts, plain names and functions have others; as it is if it
    cannot be read.
    """
    try:
        tokens = list(tokenize.generate_tokens(io.StringIO(text).readline))
    except (tokenize.TokenError, SyntaxError):
        return text
    spots: list[tuple[int, str, str]] = []
    for before, token, after in zip([None, *tokens], tokens, [*tokens[1:], None], strict=False):
        if token.type != tokenize.NAME or token.start[0] != 1:
            continue
        is_field = before is not None and before.string == "."
        is_part = not is_field and after is not None and after.string == "."
        is_function = after is not None and after.string == "("
        names = fields if is_field else parts if is_part else (
            functions or {} if is_function else plain)
        new = names.get(token.string, token.string)
        if new != token.string:
            spots.append((token.start[1], token.string, new))
    for at, old, new in reversed(spots):
        text = f"{text[:at]}{new}{text[at + len(old):]}"
    return text


def _from_2(data: Data) -> Data:
    """Format 3 calls values what the window calls them: corners, direction, expand, position."""
    kit = {**data, "format": 3}
    palette = [entry.get("name") for name in ("palette", "values")
               for entry in _objects(data.get(name))]
    # What a formula calls by a name that is a parameter's or the palette's is not a value.
    taken = {str(entry.get("name")).replace("-", "_") for control in _objects(data.get("controls"))
             for whole in (control, control.get("differs"))
             for entry in (_objects(whole.get("parameters")) if isinstance(whole, dict) else ())}
    taken |= {str(name).replace("-", "_") for name in palette}
    plain = {old: new for old, new in VALUES_2.items() if old not in taken}
    return _each(kit, "controls", lambda control: _control_2(control, plain))


def _control_2(control: Data, plain: dict[str, str]) -> Data:
    def path(text: str) -> str:
        first, *rest = text.split(".")
        if first != "arguments":
            first, rest = VALUES_2.get(first, first), [VALUES_2.get(step, step) for step in rest]
        return ".".join([first, *rest])

    def formulas(by_path: Data) -> Data:
        return {path(name): _reworded(text, VALUES_2, {}, plain) if isinstance(text, str) else text
                for name, text in by_path.items()}

    def timings(by_value: Data) -> Data:
        return {VALUES_2.get(name, name): timing for name, timing in by_value.items()}

    made = _at(control, "outline", _outline_2)
    made = _each(made, "layers", _values_2)
    for name, change in (("states", _values_2), ("formulas", formulas), ("timings", timings)):
        made = _each(made, name, lambda by_part, change=change: {  # type: ignore[misc]
            part: change(values) if isinstance(values, dict) else values
            for part, values in by_part.items()})
    for name in ("answers", "swings"):
        made = _each(made, name, lambda entry: _at(
            entry, "value", lambda value: path(value) if isinstance(value, str) else value)
            if entry.get("part") != "control" else entry)
    return _at(made, "differs", lambda differs: _control_2(differs, plain)
               if isinstance(differs, dict) else differs)


def _values_2(values: Data) -> Data:
    return _at(_renamed(values, VALUES_2), "outline", _outline_2)


def _outline_2(outline: Any) -> Any:
    if not isinstance(outline, dict):
        return outline
    return _each(_renamed(outline, VALUES_2), "joins", lambda join: _renamed(join, VALUES_2))


def _objects(entries: Any) -> list[Data]:
    """The objects of a list, or of a keyed one."""
    if isinstance(entries, dict):
        entries = [{"name": name, **entry} for name, entry in entries.items()
                   if isinstance(entry, dict)]
    return [entry for entry in entries if isinstance(entry, dict)] if isinstance(
        entries, list | tuple) else []


def _free_layer_id(data: Data) -> str:
    """A name for layers that were called ``outline``, unlike that of any layer of the kit."""
    text = repr(data.get("controls"))
    name, count = "outline-layer", 2
    while repr(name) in text:
        name, count = f"outline-layer-{count}", count + 1
    return name


def _renamed(data: Data, names: dict[str, str]) -> Data:
    return {names.get(name, name): value for name, value in data.items()}


def _at(data: Data, name: str, change: Callable[[Any], Any]) -> Data:
    return {**data, name: change(data[name])} if data.get(name) is not None else data


def _each(data: Data, name: str, change: Callable[[Data], Data]) -> Data:
    """``data`` with every object of the list, or keyed list, under a name changed."""
    entries = data.get(name)
    if isinstance(entries, list | tuple):
        made: Any = [change(entry) if isinstance(entry, dict) else entry for entry in entries]
    elif isinstance(entries, dict):
        made = {key: change(entry) if isinstance(entry, dict) else entry
                for key, entry in entries.items()}
    else:
        return data
    return {**data, name: made}


def _from_3(data: Data) -> Data:
    """Format 4 says long press, finish and translucent, as the window does."""
    kit = {**_renamed(data, {"face": "finish"}), "format": 4}
    kit = _each(kit, "palette", lambda swatch: _at(swatch, "formula", _formula_3))
    return _each(kit, "controls", _control_3)


def _formula_3(text: Any) -> Any:
    return _reworded(text, {}, {}, {}, FUNCTIONS_3) if isinstance(text, str) else text


def _control_3(control: Data) -> Data:
    made = _at(control, "behaviour", lambda kind: "long-press" if kind == "hold" else kind)
    made = _each(made, "formulas", lambda by_part: {
        part: {path: _formula_3(text) for path, text in formulas.items()}
        if isinstance(formulas, dict) else formulas for part, formulas in by_part.items()})
    return _at(made, "differs", lambda differs: _control_3(differs)
               if isinstance(differs, dict) else differs)


STEPS: dict[int, Callable[[Data], Data]] = {1: _from_1, 2: _from_2, 3: _from_3}
