"""Pages from right to left: rules that put what stands at a control's start at its right.

Its light stays as it is, and so do icons, symbols and letters, as in the other targets.
"""

from __future__ import annotations

import re
from collections.abc import Collection

from mektel.targets.web.css_values import Declarations

RIGHT_TO_LEFT = ":host(:dir(rtl))"
# Where a shadow falls is its light's affair.
LIGHT = "var(--x) var(--y)"
BEYOND = re.compile(r"calc\(100% \+ (\d*\.?\d+)px\)")
LENGTH = re.compile(r"-?\d*\.?\d+(px|%)?")


def mirrored_rules(
    rules: list[tuple[str, Declarations]], drawings: Collection[str]
) -> list[tuple[str, Declarations]]:
    """Rules for pages from right to left, for all that lies otherwise there; the form of the parts
    called ``drawings`` stays.

    They win over every other rule, so that a part that is placed by one of them is placed by all.
    """
    mirrored = [(selector, _mirrored(declared, _part_of(selector) not in drawings))
                for selector, declared in rules]
    apart = {_part_of(selector): set[str]() for selector, _ in rules}
    for (selector, declared), (_, other) in zip(rules, mirrored, strict=True):
        apart[_part_of(selector)] |= {
            name for name in other if other[name] != declared.get(name)}
    written = []
    for selector, other in mirrored:
        needed = {name: value for name, value in other.items() if name in apart[_part_of(selector)]}
        if needed and not selector.startswith((":host", "@")):
            written.append((f"{RIGHT_TO_LEFT} {selector}", needed))
    return written


def _part_of(selector: str) -> str:
    """What a rule is about, whatever the button's states."""
    return re.sub(r"^button\S*\s+", "", selector)


def _mirrored(declared: Declarations, with_form: bool) -> Declarations:
    """All that says where something lies, the other way round."""
    other: Declarations = {}
    left, right = declared.get("left"), declared.get("right")
    if (left is not None or right is not None) and not _is_in_the_middle(declared):
        other |= {"left": right or "auto", "right": left or "auto"}
    for name, mirror in (
            ("inset", _sides), ("padding", _sides), ("translate", _translate),
            ("border-radius", _corners), ("clip-path", _clip), ("transform-origin", _origin)):
        if name in declared and (with_form or name != "clip-path"):
            other[name] = mirror(declared[name])
    return other


def _is_in_the_middle(declared: Declarations) -> bool:
    half = re.fullmatch(r"calc\(50% - (\S+)px\)", declared.get("left", ""))
    return half is not None and declared.get("width") == f"{float(half[1]) * 2:g}px"


def _sides(text: str) -> str:
    sides = _split(text)
    if len(sides) == 4:
        sides = [sides[0], sides[3], sides[2], sides[1]]
    return " ".join(sides)


def _translate(text: str) -> str:
    if text == LIGHT:
        return text
    across, *down = _split(text)
    return " ".join([_negative(across), *down])


def _origin(text: str) -> str:
    across, *down = _split(text)
    return " ".join([_from_right(across), *down])


def _corners(text: str) -> str:
    """Corners run clockwise from the top left; behind a stroke are their other radii."""
    return " / ".join(" ".join(_swapped(_split(radii))) for radii in text.split(" / "))


def _swapped(radii: list[str]) -> list[str]:
    if len(radii) == 2:
        return [radii[1], radii[0]]
    if len(radii) == 3:
        return [radii[1], radii[0], radii[1], radii[2]]
    return [radii[1], radii[0], radii[3], radii[2]] if len(radii) == 4 else radii


def _clip(text: str) -> str:
    end = text.rfind(")")
    inside, box = text[text.find("(") + 1 : end], text[end + 1 :]
    if text.startswith("inset("):
        sides, _, corners = inside.partition(" round ")
        return f"inset({_sides(sides)}{f' round {_corners(corners)}' if corners else ''}){box}"
    if not text.startswith("polygon("):
        return text
    rule, points = ("evenodd, ", inside.removeprefix("evenodd, ")) if (
        inside.startswith("evenodd")) else ("", inside)
    before = points.split(", ")
    spots = []
    for point in before:
        across, down = _split(point)
        spots.append(f"{_from_right(across)} {down}")
    if set(before) == set(spots):
        return text  # both sides are alike
    return f"polygon({rule}{', '.join(spots)}){box}"


def _from_right(text: str) -> str:
    if LENGTH.fullmatch(text) and text.endswith("%"):
        return f"{round(100 - float(text[:-1]), 4):g}%"
    if LENGTH.fullmatch(text) and float(text.removesuffix("px")) == 0:
        return "100%"
    if text in ("50%", "calc(50% + 0px)"):
        return text
    if beyond := BEYOND.fullmatch(text):
        return f"-{beyond[1]}px"
    if LENGTH.fullmatch(text) and text.startswith("-"):
        return f"calc(100% + {text[1:]})"
    return f"calc(100% - {text})"


def _negative(text: str) -> str:
    if LENGTH.fullmatch(text):
        if float(re.sub(r"px|%", "", text)) == 0:
            return text
        return text[1:] if text.startswith("-") else f"-{text}"
    return f"calc(-1 * {text})"


def _split(text: str) -> list[str]:
    """Values with spaces between them; what is in brackets belongs together."""
    values, depth = [""], 0
    for letter in text:
        depth += (letter == "(") - (letter == ")")
        if letter == " " and not depth:
            values.append("")
        else:
            values[-1] += letter
    return [value for value in values if value]
