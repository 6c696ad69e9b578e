"""A style sheet as a control: what each state declares is built, then compared with rest."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
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
from mektel.core.kit.answers import Swing
from mektel.core.kit.conditions import rank
from mektel.core.kit.control import CONTROL, fault_of
from mektel.core.kit.edit import identifier
from mektel.core.kit.layers import value_names
from mektel.core.kit.moved_values import can_swing
from mektel.core.look import natural_size, propose_states
from mektel.formats.css.animations import swings_of
from mektel.formats.css.cascade import addresses
from mektel.formats.css.declarations import Built, build
from mektel.formats.css.described import Described, describe
from mektel.formats.css.element import LARGEST_PAGE, Subject, from_page, from_selector
from mektel.formats.css.pressables import Pressable, bases_among, pressables
from mektel.formats.css.sheet import LARGEST_TEXT, StyleSheet, parse_sheet
from mektel.formats.css.tokens import CssError
from mektel.formats.kitfile import read_limited

LARGEST_SHEET = LARGEST_TEXT
MOST_PALETTE = 256
Result = tuple[Control, list[Finding], tuple[Swatch, ...]]


def read_css(path: Path, name: str = "") -> Result:
    """A control from a ``.css`` file, what was not taken over, and its palette: of the first that
    describes something pressable.
    """
    text = read_limited(path, LARGEST_SHEET).decode("utf-8", "replace")
    return control_from_css(text, str(path), name or name_of(path))


def read_selectors(
    path: Path, selectors: Sequence[str], page: Path | None = None, name: str = ""
) -> tuple[list[Result], list[int | None]]:
    """The controls of several selectors of a file, each with the place of the one it builds on.

    They are looked up in ``page``, an HTML file, where that is given. Raises :class:`CssError`.
    """
    sheet = open_sheet(
        read_limited(path, LARGEST_SHEET).decode("utf-8", "replace"), str(path))
    html = read_limited(page, LARGEST_PAGE).decode("utf-8", "replace") if page else ""
    results = [
        control_of(sheet, selector, name,
                   from_page(html, selector, str(page)) if page else None)
        for selector in selectors]
    return results, bases_among(selectors, pressables(sheet))


def name_of(path: Path) -> str:
    """What a control is called that is all of a file."""
    return path.stem.replace("-", " ").capitalize()


def pressables_of(text: str, source: str) -> list[Pressable]:
    """What of a sheet can be brought in; nothing of one that cannot be read."""
    try:
        return pressables(open_sheet(text, source)) if "{" in text else []
    except CssError:
        return []


def control_from_css(
    text: str, source: str = "CSS", name: str = "", selector: str = "", html: str = "",
    page: str = "the page",
) -> Result:
    """A control from rules or bare declarations.

    States, by pseudo-class, class or attribute, become states; the ones that the sheet does not
    style are proposed. Custom properties that are colours become palette entries.
    Raises :class:`CssError`.
    """
    with reading(source, CssError):
        if "{" not in text:
            # Bare declarations are those of a button.
            text, selector, name = f".button{{{text}\n}}", ".button", name or "Button"
        sheet = parse_sheet(text, source)
        subject = from_page(html, selector, page) if html else None
        return control_of(sheet, selector, name, subject)


def open_sheet(text: str, source: str) -> StyleSheet:
    """A sheet, read once, of which several controls are wanted. Raises :class:`CssError`."""
    with reading(source, CssError):
        return parse_sheet(text, source)


def control_of(
    sheet: StyleSheet, selector: str = "", name: str = "", subject: Subject | None = None,
    suggest: bool = True,
) -> Result:
    """The control that a selector describes, or an element of a page; else the sheet's first.

    ``suggest`` gives it the states, too, that the sheet does not style.
    """
    with reading(sheet.source, CssError):
        listed = [] if selector or subject else pressables(sheet)
        if not (subject or selector or listed):
            raise _nothing(sheet)
        subject = subject or from_selector(selector or listed[0].selector)
        title = name or Pressable(subject.title, 1).title
        described = describe(sheet, subject, title)
        if not any(described.states.values()) or not addresses(sheet, subject):
            raise _nothing(sheet)
        others = [entry.selector for entry in listed[1:]]
        if others:
            described.leave(listed[0].line, f"only {subject.title} is taken; {len(others)} more "
                            f"can be chosen, such as {', '.join(others[:3])}")
        return _control_of(described, title, suggest)


def _nothing(sheet: StyleSheet) -> CssError:
    first = f" ({sheet.skipped[0]})" if sheet.skipped else ""
    return CssError(
        f"{sheet.source}: no declaration that describes a button{first}. Write, say, "
        "background: teal; border-radius: 8px, or a rule .button { … }.")


def _control_of(sheet: Described, title: str, suggest: bool) -> Result:
    rest = build(sheet, "rest")
    styled = [state for state, _ in in_order(tuple(sheet.states)) if state != "rest"]
    if not rest.sized:
        # The text decides what is not given; then percentages are of what it decided.
        first = _joined(title, rest, {}, {}, sheet)
        natural = natural_size(first)
        sheet.size = (math.ceil(natural[0]), math.ceil(natural[1]))
        rest = build(sheet, "rest")
    states: dict[str, Built] = {state: build(sheet, state) for state in styled}
    if "checked" in states and states["checked"] == states.get("pressed"):
        # A class that only holds the pressed look makes no switch of a button.
        states = {state: built for state, built in states.items()
                  if "checked" not in parse_flags(state)}
    palette, names = _palette(sheet)
    control = _joined(title, rest, states, names, sheet)
    control = _in_motion(control, swings_of(sheet, {"rest": rest, **states}))
    if natural_size(control.model_copy(update={"outline": control.outline.model_copy(
            update={"padding": (0.0, 0.0)})}))[0] > rest.size[0]:
        # A box without room for its name has no text: a switch, a round key.
        control = control.model_copy(update={"text": ""})
    if suggest:
        control = propose_states(Kit(palette=palette), control)
    return control, sheet.leftovers, palette


def _in_motion(control: Control, swings: list[dict[str, Any]]) -> Control:
    """The control with what moves without end, as far as its values can swing."""
    made = [Swing.model_validate(swing) for swing in swings]
    held = [swing for swing in made if swing.part == CONTROL
            or can_swing(control.part(swing.part), swing.value)]
    return Control.model_validate(
        control.model_copy(update={"swings": tuple(held)}).model_dump()) if held else control


def _palette(sheet: Described) -> tuple[tuple[Swatch, ...], dict[str, str]]:
    """Custom properties that are colours, and by which name a colour goes."""
    palette: list[Swatch] = []
    for name, (line, tone, dark) in sheet.colours.items():
        if len(palette) >= MOST_PALETTE:
            sheet.leave(line, f"{name}: more than {MOST_PALETTE} colours have a name")
            break
        entry = identifier(name.lstrip("-"), [s.name for s in palette], "colour")
        palette.append(Swatch(name=entry, colour=tone, schemes={"dark": dark} if dark else {}))
    names: dict[str, str] = {}
    for swatch in palette:
        names.setdefault(swatch.colour, swatch.name)
    return tuple(palette), names


def _joined(
    title: str, rest: Built, states: dict[str, Built], names: dict[str, str], sheet: Described
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
        flags = {flag for state in states for flag in parse_flags(state)}
        behaviour = "busy" if "busy" in flags else "two-position" if "checked" in flags else "push"
        control = Control.model_validate({
            "behaviour": behaviour, "id": identifier(title, [], "control"), "name": title[:80],
            "text": title[:80], "size": rest.size, "outline": body, "layers": made,
            "transition": rest.transition,
        })
        for state in sorted(states, key=rank):
            changed = _changes(states[state], control, parse_flags(state), names, sheet)
            if changed:
                control = control.model_copy(
                    update={"states": {**control.states, state: changed}})
        return Control.model_validate(control.model_dump())
    except ValidationError as error:
        where, why = fault_of(error)
        raise CssError(f"a value that no control can have: {where}: {why}") from None


def _taken(model: type[Any], values: dict[str, Any], sheet: Described) -> Any:
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
    built: Built, control: Control, flags: frozenset[str], names: dict[str, str], sheet: Described
) -> dict[str, dict[str, Any]]:
    """In what a state differs from what the states that it holds come to."""
    changes: dict[str, dict[str, Any]] = {}

    def compare(part_id: str, there: Any, wanted: Any) -> None:
        differing = {n: getattr(wanted, n) for n in value_names(there)
                     if getattr(wanted, n) != getattr(there, n)}
        if differing:
            changes[part_id] = differing

    compare(OUTLINE, control.part_in(OUTLINE, flags), _taken(ControlOutline, built.outline, sheet))
    for layer in control.layers:
        there: Any = control.part_in(layer.id, flags)
        if layer.id not in built.layers:
            if there.visible:
                changes[layer.id] = {"visible": False}
            continue
        values = _named({**built.layers[layer.id], "id": layer.id, "visible": True}, names)
        compare(layer.id, there, _taken(type(layer), values, sheet))
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
