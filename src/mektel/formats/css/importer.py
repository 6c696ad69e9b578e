"""A style sheet as a control: what each state declares is built, then compared with rest."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from mektel.core.errors import reading
from mektel.core.finding import Finding
from mektel.core.kit import (
    KINDS,
    OUTLINE,
    Control,
    ControlOutline,
    Kit,
    Swatch,
    in_order,
    parse_flags,
)
from mektel.core.kit.control import fault_of
from mektel.core.kit.edit import identifier
from mektel.core.kit.layers import LayerBase, value_names
from mektel.core.look import natural_size, propose_states
from mektel.formats.css.declarations import Built, build
from mektel.formats.css.lengths import colour
from mektel.formats.css.rules import CssError, Sheet, components, parse
from mektel.formats.kitfile import read_limited

LARGEST_FILE = 512 * 1024
MOST_PALETTE = 256
Result = tuple[Control, list[Finding], tuple[Swatch, ...]]


def read_css(path: Path, name: str = "") -> Result:
    """A control from a ``.css`` file, what was not taken over, and its palette."""
    text = read_limited(path, LARGEST_FILE).decode("utf-8", "replace")
    return control_from_css(text, str(path), name or path.stem.replace("-", " ").capitalize())


def control_from_css(text: str, source: str = "CSS", name: str = "") -> Result:
    """A control from rules or bare declarations.

    ``:hover``, ``:active``, ``:focus-visible`` and ``:disabled`` become states; the ones that the
    sheet does not style are proposed. Custom properties that are colours become palette entries.
    Raises :class:`CssError`.
    """
    with reading(source, CssError):
        return _control_of(parse(text, source), name)


def _control_of(sheet: Sheet, name: str) -> Result:
    title = name or sheet.name or "Button"
    rest = build(sheet, "rest")
    styled = [state for state, _ in in_order(tuple(sheet.states)) if state != "rest"]
    if not rest.sized:
        # The text decides what is not given; then percentages are of what it decided.
        first = _joined(title, rest, {}, {}, sheet)
        sheet.size = natural_size(first)
        rest = build(sheet, "rest")
    states: dict[str, Built] = {state: build(sheet, state) for state in styled}
    palette, names = _palette(sheet)
    control = _joined(title, rest, states, names, sheet)
    kit = Kit(palette=palette)
    proposed = propose_states(kit, control)
    return proposed, sheet.leftovers, palette


def _palette(sheet: Sheet) -> tuple[tuple[Swatch, ...], dict[str, str]]:
    """Custom properties that are colours, and by which name a colour goes."""
    palette: list[Swatch] = []
    for name, declared in sheet.variables.items():
        tokens = components(declared.tokens)
        tone = colour(tokens[0]) if len(tokens) == 1 else None
        if tone is not None and len(palette) >= MOST_PALETTE:
            sheet.leave(declared.line, f"{name}: more than {MOST_PALETTE} colours have a name")
        elif tone is not None:
            entry = identifier(name.lstrip("-"), [s.name for s in palette], "colour")
            palette.append(Swatch(name=entry, colour=tone))
    names: dict[str, str] = {}
    for swatch in palette:
        names.setdefault(swatch.colour, swatch.name)
    return tuple(palette), names


def _joined(
    title: str, rest: Built, states: dict[str, Built], names: dict[str, str], sheet: Sheet
) -> Control:
    """Layers of all states in one order; those that rest does not have are hidden there."""
    order = list(rest.layers)
    for built in states.values():
        before = ""
        for layer_id in built.layers:
            if layer_id not in order:
                order.insert(order.index(before) + 1 if before in order else 0, layer_id)
            before = layer_id
    everywhere: dict[str, dict[str, Any]] = {}
    for layer_id in order:
        first = next(b.layers[layer_id] for b in (rest, *states.values()) if layer_id in b.layers)
        everywhere[layer_id] = {**first, "visible": layer_id in rest.layers}
    layers = [_named(values, names) for values in everywhere.values()]
    try:
        made = [_taken(KINDS[layer["kind"]], {**layer, "id": layer_id}, sheet)
                for layer_id, layer in zip(order, layers, strict=True)]
        body: ControlOutline = _taken(ControlOutline, rest.outline, sheet)
        changes = {
            state: _changes(built, body, made, names, sheet) for state, built in states.items()}
        flags = {flag for state in states for flag in parse_flags(state)}
        behaviour = "busy" if "busy" in flags else "two-position" if "checked" in flags else "push"
        return Control.model_validate({
            "behaviour": behaviour, "id": identifier(title, [], "control"), "name": title[:80],
            "text": title[:80], "size": rest.size, "outline": body, "layers": made,
            "states": {state: changed for state, changed in changes.items() if changed},
            "transition": rest.transition,
        })
    except ValidationError as error:
        where, why = fault_of(error)
        raise CssError(f"a value that no control can have: {where}: {why}") from None


def _taken(model: type[Any], values: dict[str, Any], sheet: Sheet) -> Any:
    """A body or layer of these values; one that is beyond its limits is left out and listed."""
    values = dict(values)
    for _ in range(len(values)):
        try:
            return model.model_validate(values)
        except ValidationError as error:
            place, why = fault_of(error)
            name = re.split(r"[.\[]", place)[0]
            if name not in values or name in ("id", "kind", "name"):
                raise
            sheet.leave(sheet.first_line, f"{values.get('name', 'the outline')}, {name}: {why}")
            del values[name]
    return model.model_validate(values)


def _changes(
    built: Built, body: ControlOutline, layers: list[LayerBase], names: dict[str, str], sheet: Sheet
) -> dict[str, dict[str, Any]]:
    changes: dict[str, dict[str, Any]] = {}
    wanted = _taken(ControlOutline, built.outline, sheet)
    differing = {n: getattr(wanted, n) for n in value_names(body)
                 if getattr(wanted, n) != getattr(body, n)}
    if differing:
        changes[OUTLINE] = differing
    for layer in layers:
        if layer.id not in built.layers:
            if layer.visible:
                changes[layer.id] = {"visible": False}
            continue
        values = _named({**built.layers[layer.id], "id": layer.id, "visible": True}, names)
        other = _taken(type(layer), values, sheet)
        differing = {n: getattr(other, n) for n in value_names(layer)
                     if getattr(other, n) != getattr(layer, n)}
        if differing:
            changes[layer.id] = differing
    return changes


def _named(values: dict[str, Any], names: dict[str, str]) -> dict[str, Any]:
    """Colours that a custom property names are linked to the palette."""
    renamed = dict(values)
    for key, value in values.items():
        if isinstance(value, str) and key.endswith("colour"):
            renamed[key] = names.get(value, value)
    if "stops" in renamed:
        renamed["stops"] = tuple(
            stop.model_copy(update={"colour": names.get(stop.colour, stop.colour)})
            for stop in renamed["stops"])
    return renamed
