"""What a formula may speak of at its place, what it comes to, and where it is at fault."""

from __future__ import annotations

import ast
import re
from dataclasses import dataclass
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.formula import FUNCTIONS, Formula, FormulaError, Value, parse
from mektel.core.kit import CONTROL, OUTLINE, REST, Control, Kit, parameter_edits, parse_flags
from mektel.core.kit.layers import value_names
from mektel.core.look.settle import SIZES, plain_at, settle, settled

SIZE_HELP = {
    "width": "of the control, px", "height": "of the control, px",
    "parent_width": "of what it stands in, px", "parent_height": "of what it stands in, px",
}
_BEFORE = re.compile(r"[A-Za-z_][A-Za-z_0-9]*(?:\.[A-Za-z_0-9]*)?$")


@dataclass(frozen=True)
class Term:
    """What a formula can name: ``insert`` is what is written, ``value`` what it is now."""

    insert: str
    shown: str
    help: str
    value: str = ""


def terms_at(kit: Kit, control: Control, state: str, part_id: str) -> list[Term]:
    """Every name that a formula of a part can use in a state, what is nearest first."""
    plain = settled(kit, control)
    terms = [Term(parameter.name, parameter.name, parameter.help or "parameter",
                  shown_value(parameter.default)) for parameter in control.parameters]
    own = (control.size[0], control.size[1])
    terms += [Term(name, name, SIZE_HELP[name],
                   "" if name.startswith("parent") else f"{own[at]:g}")
              for name, at in SIZES.items()]
    if state != REST and part_id != CONTROL:
        terms.append(Term("rest", "rest", "what this value is at rest"))
    terms.append(Term("text", "text", "what the control says", f"“{control.text}”"))
    names = {OUTLINE: OUTLINE, **{layer.id: layer.id.replace("-", "_") for layer in control.layers}}
    if part_id in names:
        terms += _values(kit, plain, state, part_id, "", "of this layer")
    terms += [Term(entry.name.replace("-", "_"), entry.name.replace("-", "_"), "palette colour",
                   entry.colour) for entry in kit.palette]
    terms += [Term(entry.name.replace("-", "_"), entry.name.replace("-", "_"),
                   f"palette {entry.type.replace('-', ' ')}", shown_value(entry.value))
              for entry in kit.values]
    terms += [Term(f"{name}(", f"{name}({function.arguments})", function.help)
              for name, function in FUNCTIONS.items()]
    for other, name in names.items():
        if other != part_id:
            title = "outline" if other == OUTLINE else control.layer(other).name
            terms += _values(kit, plain, state, other, f"{name}.", f"of {title}")
    return terms


def _values(
    kit: Kit, plain: Control, state: str, part_id: str, before: str, whose: str
) -> list[Term]:
    part = plain.part_in(part_id, parse_flags(state))
    terms = []
    for name in value_names(part):
        try:
            value = plain_at(kit, part, name)
        except MektelError:
            continue
        if isinstance(value, bool | int | float | str) or (
                isinstance(value, tuple) and all(isinstance(entry, float) for entry in value)):
            terms.append(Term(before + name, before + name, whose, shown_value(value)))
    return terms


def matching(terms: list[Term], text: str, cursor: int) -> tuple[int, list[Term]]:
    """Where the name begins that is being typed, and the terms that it may become.

    Without a name all terms are offered, but values of other layers; those that begin alike come
    before those that only contain it.
    """
    before = _BEFORE.search(text[:cursor])
    if before is None:
        return cursor, [term for term in terms if "." not in term.insert]
    typed = before.group().lower()
    begin = [term for term in terms if term.insert.lower().startswith(typed)]
    inside = [term for term in terms if typed in term.shown.lower() and term not in begin]
    return before.start(), [*begin, *inside]


def fault_at(terms: list[Term], text: str) -> int | None:
    """The index of the first character at fault: where it cannot be read, or an unknown name."""
    skipped = len(text) - len(text.lstrip())
    try:
        formula: Formula = parse(text)
    except FormulaError as error:
        return None if error.at is None else error.at + skipped
    known = {term.insert for term in terms}
    spots = []
    for node in ast.walk(formula.tree):
        if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
            if f"{node.value.id}.{node.attr}" not in known:
                spots.append(node.col_offset)
        elif isinstance(node, ast.Name) and node.id not in FUNCTIONS and node.id not in known and (
                not any(name.startswith(f"{node.id}.") for name in known)):
            spots.append(node.col_offset)
    return min(spots) + skipped if spots else None


def value_by(
    kit: Kit, control_id: str, state: str, place: tuple[str, str], text: str
) -> str:
    """What a formula makes of a place, in short; raises :class:`MektelError` where it cannot."""
    part, path = place
    kit = parameter_edits.set_formula(kit, control_id, state, part, path, text)
    made = settle(kit, kit.control(control_id))
    for problem in made.problems:
        if (problem.part, problem.path) == place and problem.condition in (state, REST):
            raise FormulaError(problem.text)
    if part == CONTROL:
        whole: Any = made.control
        return shown_value(plain_at(kit, whole, path))
    return shown_value(plain_at(kit, made.control.part_in(part, parse_flags(state)), path))


def shown_value(value: Value | Any) -> str:
    """A value in as few characters as say it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return f"{value:.4g}"
    if isinstance(value, str):
        return value if value.startswith("#") else f"“{value[:24]}{'…' if len(value) > 24 else ''}”"
    if isinstance(value, tuple | list) and all(isinstance(entry, int | float) for entry in value):
        return ", ".join(f"{entry:.4g}" for entry in value)
    return ""
