"""Design tokens (W3C Design Tokens Format): palette in and out, with nothing of the file lost.

What the palette has no place for (groups, descriptions, extensions, other types, aliases) stays in
the kit as it came and is written back around the values; an alias stays one as long as its value
is still that of what it points to.
"""

from __future__ import annotations

import copy
import json
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from mektel.core.colour import ColourError, colour_from_text
from mektel.core.easing import KEYWORDS
from mektel.core.errors import MektelError, reading
from mektel.core.finding import Finding, Place
from mektel.core.kit import Kit, PaletteValue, Stop, Swatch, TextStyle
from mektel.core.kit.checking import checked
from mektel.core.kit.control import fault_of
from mektel.core.kit.document import MOST_COLOURS
from mektel.core.kit.edit import identifier
from mektel.core.kit.timing import Timing
from mektel.formats.json_text import depth, json_from_text
from mektel.formats.kitfile import read_limited, text_of

LARGEST_FILE = 4 * 1024 * 1024
DEEPEST, MOST_TOKENS = 24, 2000
# Levels of JSON, extensions included; values looked at while aliases are followed.
DEEPEST_JSON, MOST_FOLLOWED = 48, 200_000
# What a palette takes of colours and of everything else together.
MOST_ENTRIES = 2 * MOST_COLOURS
ALIAS = re.compile(r"\{([^{}]+)\}")
WEIGHTS = {"normal": 400, "regular": 400, "medium": 500, "semi-bold": 600, "bold": 700,
           "extra-bold": 800}
# What a transition token cannot say of a timing stands under this name in its extensions.
EXTENSION = "mektel.timing"
BEZIER = re.compile(r"cubic-bezier\(([^()]*)\)")


class TokenError(MektelError):
    """A token file that cannot be read; says where in it and why."""


class _ValueError(ValueError):
    """A token's value that its type does not have; the text is fit for the user."""


@dataclass(frozen=True)
class Tokens:
    """A token file as palette entries, and the file itself to write back."""

    palette: tuple[Swatch, ...]
    values: tuple[PaletteValue, ...]
    source: dict[str, Any]
    paths: dict[str, str]
    leftovers: tuple[Finding, ...]


def read_tokens(path: Path) -> Tokens:
    """Raises :class:`TokenError` or :class:`KitFileError` naming the place of the fault."""
    return tokens_from_text(text_of(read_limited(path, LARGEST_FILE), path), str(path))


def tokens_from_text(text: str, source: str = "tokens") -> Tokens:
    data = json_from_text(text, source, TokenError, DEEPEST_JSON)
    if not isinstance(data, dict):
        raise TokenError(f"{source}: the outermost value must be an object of groups and tokens.")
    with reading(source, TokenError):
        walk = _Found(data, source)
        walk.walk(data, (), None)
    return Tokens(tuple(walk.palette), tuple(walk.values), data, walk.paths,
                  tuple(walk.leftovers))


class _Found:
    def __init__(self, data: dict[str, Any], source: str) -> None:
        self.data, self.source = data, source
        self.palette: list[Swatch] = []
        self.values: list[PaletteValue] = []
        self.leftovers: list[Finding] = []
        self.paths: dict[str, str] = {}
        self.followed = 0  # values looked at while aliases are followed

    def walk(self, node: dict[str, Any], path: tuple[str, ...], kind: str | None) -> None:
        if len(path) > DEEPEST:
            raise TokenError(f"{self.source}: {'.'.join(path)}: nested deeper than {DEEPEST}.")
        own = node.get("$type", kind)
        if "$value" in node:
            self._take(node, path, own)
            return
        for name, inner in node.items():
            if name.startswith("$"):
                continue
            if not isinstance(inner, dict):
                raise TokenError(f"{self.source}: {'.'.join((*path, name))}: a group or a token "
                                 "must be an object; a token has $value.")
            self.walk(inner, (*path, name), own)

    def _take(self, node: dict[str, Any], path: tuple[str, ...], kind: Any) -> None:
        where = ".".join(path)
        if len(self.paths) + len(self.leftovers) >= MOST_TOKENS:
            raise TokenError(f"{self.source}: more than {MOST_TOKENS} tokens.")
        if len(self.paths) >= MOST_ENTRIES:
            raise TokenError(f"{self.source}: {where}: more than {MOST_ENTRIES} tokens for a "
                             "palette; import only some of them.")
        value, resolved_kind = self.resolved(node["$value"], kind, (where,))
        name = identifier("-".join(path), list(self.paths.values()), "token")
        note = str(node.get("$description", ""))[:200]
        try:
            entry = _entry(name, resolved_kind, value, note, node.get("$extensions"))
        except (ColourError, ValidationError, _ValueError) as error:
            reason = fault_of(error)[1] if isinstance(error, ValidationError) else str(error)
            raise TokenError(f"{self.source}: {where}: {reason}") from None
        except Exception:
            raise TokenError(f"{self.source}: {where}: this is not a value of the type "
                             f"{str(resolved_kind)[:40]}.") from None
        if isinstance(entry, Swatch):
            self.palette.append(entry)
        elif isinstance(entry, PaletteValue):
            self.values.append(entry)
        else:
            self.leftovers.append(Finding(
                "not-in-palette", Place(element=where), entry))
            return
        self.paths[where] = name

    def resolved(self, value: Any, kind: Any, under_way: tuple[str, ...]) -> tuple[Any, Any]:
        """A value with its aliases followed, and the type it then has."""
        self.followed += 1
        if self.followed > MOST_FOLLOWED:
            raise TokenError(f"{self.source}: {under_way[0]}: with its aliases followed it comes "
                             f"to more than {MOST_FOLLOWED} values.")
        if isinstance(value, str) and (match := ALIAS.fullmatch(value.strip())):
            target = match[1]
            if target in under_way:
                raise TokenError(
                    f"{self.source}: aliases in a ring: {' → '.join([*under_way, target])}.")
            node, inherited = self._token(target, under_way[-1])
            return self.resolved(node["$value"], kind or node.get("$type", inherited),
                                 (*under_way, target))
        if isinstance(value, dict):
            return {k: self.resolved(v, None, under_way)[0] for k, v in value.items()}, kind
        if isinstance(value, list):
            return [self.resolved(v, None, under_way)[0] for v in value], kind
        return value, kind

    def _token(self, target: str, where: str) -> tuple[dict[str, Any], Any]:
        node: Any = self.data
        kind = None
        for step in target.split("."):
            node = node.get(step) if isinstance(node, dict) else None
            if isinstance(node, dict):
                kind = node.get("$type", kind)
        if not isinstance(node, dict) or "$value" not in node:
            raise TokenError(f"{self.source}: {where}: points to “{target}”, which is not a token.")
        return node, kind


def _entry(
    name: str, kind: Any, value: Any, note: str, extensions: Any
) -> Swatch | PaletteValue | str:
    """A palette entry, or why there is no place for the token."""
    if kind == "color":
        return Swatch(name=name, colour=_colour(value), note=note)
    if kind == "dimension":
        return PaletteValue(name=name, type="length", value=_length(value), note=note)
    if kind == "duration":
        return PaletteValue(name=name, type="duration", value=_seconds(value), note=note)
    if kind == "number":
        return PaletteValue(name=name, type="number", value=float(value), note=note)
    if kind == "fontFamily":
        first = value[0] if isinstance(value, list) else value
        return PaletteValue(name=name, type="font", value=str(first), note=note)
    if kind == "gradient":
        stops = tuple(Stop(position=float(stop["position"]), colour=_colour(stop["color"]))
                      for stop in value)
        return PaletteValue(name=name, type="gradient", value=stops, note=note)
    if kind == "typography":
        family = value.get("fontFamily", "Hanken Grotesk")
        family = family[0] if isinstance(family, list) else family
        if family not in ("Hanken Grotesk", "Rubik"):
            return f"the font {family} is not shipped with Mektel; kept as it is"
        weight = value.get("fontWeight", 400)
        weight = WEIGHTS.get(str(weight).lower(), weight)
        spacing = value.get("letterSpacing", {"value": 0, "unit": "px"})
        return PaletteValue(name=name, type="text-style", note=note, value=TextStyle(
            family=family, size=_length(value["fontSize"]), spacing=_length(spacing),
            weight=min((400, 500, 600, 700, 800), key=lambda step: abs(step - float(weight)))))
    if kind == "transition":
        return PaletteValue(name=name, type="timing", note=note, value=_timing(value, extensions))
    if kind is None:
        return "it has no $type, of its own or of its group; kept as it is"
    return f"the palette has no place for {kind}; kept as it is"


def _colour(value: Any) -> str:
    if isinstance(value, str):
        return colour_from_text(value)
    space = value.get("colorSpace", "srgb")
    parts = [0.0 if part == "none" else float(part) for part in value["components"]]
    alpha = float(value.get("alpha", 1))
    spaces = {"srgb": "srgb", "srgb-linear": "srgb-linear", "display-p3": "display-p3",
             "oklch": "oklch", "oklab": "oklab", "hsl": "hsl"}.get(space)
    if spaces is None:
        raise _ValueError(f"colours of the space {space} are not read")
    joined = " ".join(f"{part:.6g}" for part in parts)
    if spaces in ("oklch", "oklab"):
        return colour_from_text(f"{spaces}({joined} / {alpha})")
    if spaces == "hsl":
        return colour_from_text(f"hsl({parts[0]:g} {parts[1]:g}% {parts[2]:g}% / {alpha})")
    return colour_from_text(f"color({spaces} {joined} / {alpha})")


def _length(value: Any) -> float:
    """In px; a rem is 16 of them."""
    if isinstance(value, dict):
        number, unit = float(value["value"]), value.get("unit", "px")
    else:
        match = re.fullmatch(r"(-?[\d.]+)(px|rem)?", str(value).strip())
        if not match:
            raise _ValueError(f"“{str(value)[:40]}” is not a length; write 8px or 0.5rem")
        number, unit = float(match[1]), match[2] or "px"
    if unit not in ("px", "rem"):
        raise _ValueError(f"lengths are in px or rem, not in {unit}")
    return number * (16 if unit == "rem" else 1)


def _seconds(value: Any) -> float:
    if isinstance(value, dict):
        number, unit = float(value["value"]), value.get("unit", "ms")
    else:
        match = re.fullmatch(r"([\d.]+)(ms|s)", str(value).strip())
        if not match:
            raise _ValueError(f"“{str(value)[:40]}” is not a time; write 150ms or 0.15s")
        number, unit = float(match[1]), match[2]
    return number / 1000 if unit == "ms" else number


def _timing(value: Any, extensions: Any) -> Timing:
    """A transition; what Mektel wrote counts as long as the token still has its times."""
    seconds, delay = _seconds(value["duration"]), _seconds(value.get("delay", "0s"))
    if isinstance(extensions, dict) and EXTENSION in extensions:
        own = Timing.model_validate(extensions[EXTENSION])
        if (own.seconds, own.delay) == (seconds, delay):
            return own
    points = ", ".join(f"{float(part):g}" for part in value["timingFunction"])
    names = {curve: name for name, curve in KEYWORDS.items()}
    curve = f"cubic-bezier({points})"
    return Timing(seconds=seconds, delay=delay, easing=names.get(curve, curve))


def _transition(timing: Timing) -> dict[str, Any]:
    """A transition token's value; of a spring only its times, with the curve of plain ease."""
    written = KEYWORDS.get(timing.easing, timing.easing)
    match = BEZIER.fullmatch(written if timing.kind == "easing" else "")
    points = (match or BEZIER.fullmatch(KEYWORDS["ease"]))[1]  # type: ignore[index]
    return {"duration": {"value": _plain(timing.seconds), "unit": "s"},
            "delay": {"value": _plain(timing.delay), "unit": "s"},
            "timingFunction": [_plain(float(part)) for part in points.split(",")]}


def _extensions(entry: Swatch | PaletteValue) -> dict[str, Any]:
    if isinstance(entry, PaletteValue) and entry.type == "timing":
        return {EXTENSION: entry.value.model_dump(mode="json")}
    return {}


def tokens_to_text(kit: Kit) -> str:
    """The palette as a token file; around it, what the file it came from had besides."""
    data: dict[str, Any] = copy.deepcopy(dict(kit.tokens or {}))
    paths = {}
    if data:
        try:
            before = tokens_from_text(json.dumps(data), "the kit’s tokens")
            paths = {name: path for path, name in before.paths.items()}
            was: dict[str, Any] = {swatch.name: swatch for swatch in before.palette}
            was |= {entry.name: entry for entry in before.values}
        except MektelError:
            data, was = {}, {}
    else:
        was = {}
    entries: list[Swatch | PaletteValue] = [*kit.palette, *kit.values]
    for entry in entries:
        if entry.name in paths:
            if _same(was[entry.name], entry):
                continue
            node: Any = data
            for step in paths[entry.name].split("."):
                node = node[step]
            node["$value"] = _value(entry)
            if own := _extensions(entry):
                node["$extensions"] = {**(node.get("$extensions") or {}), **own}
        else:
            group = data.setdefault(_group(entry), {})
            group[entry.name] = {"$type": _type(entry), "$value": _value(entry)}
            if own := _extensions(entry):
                group[entry.name]["$extensions"] = own
            if entry.note:
                group[entry.name]["$description"] = entry.note
    _drop_gone(data, paths, {swatch.name for swatch in kit.palette} | {f.name for f in kit.values})
    return json.dumps(data, indent=2, ensure_ascii=False) + "\n"


def _drop_gone(data: dict[str, Any], paths: dict[str, str], names: set[str]) -> None:
    for name, path in paths.items():
        if name not in names:
            *groups, last = path.split(".")
            node: Any = data
            for step in groups:
                node = node[step]
            node.pop(last, None)


def _same(entry: Swatch | PaletteValue, other: Swatch | PaletteValue) -> bool:
    if isinstance(entry, Swatch) and isinstance(other, Swatch):
        return entry.colour == other.colour
    return (isinstance(entry, PaletteValue) and isinstance(other, PaletteValue)
            and entry.value == other.value)


def _group(entry: Swatch | PaletteValue) -> str:
    return "colour" if isinstance(entry, Swatch) else entry.type


def _type(entry: Swatch | PaletteValue) -> str:
    if isinstance(entry, Swatch):
        return "color"
    return {"length": "dimension", "duration": "duration", "number": "number",
            "font": "fontFamily", "gradient": "gradient", "text-style": "typography",
            "timing": "transition"}[entry.type]


def _value(entry: Swatch | PaletteValue) -> Any:
    if isinstance(entry, Swatch):
        return _colour_value(entry.colour)
    value = entry.value
    if entry.type == "length":
        return {"value": _plain(value), "unit": "px"}
    if entry.type == "duration":
        return {"value": _plain(value), "unit": "s"}
    if entry.type == "gradient":
        return [{"color": _colour_value(stop.colour), "position": _plain(stop.position)}
                for stop in value]
    if entry.type == "text-style":
        return {"fontFamily": value.family, "fontSize": {"value": _plain(value.size), "unit": "px"},
                "fontWeight": value.weight,
                "letterSpacing": {"value": _plain(value.spacing), "unit": "px"}}
    if entry.type == "timing":
        return _transition(value)
    return _plain(value)


def _colour_value(colour: str) -> dict[str, Any]:
    if not colour.startswith("#"):
        return {"colorSpace": "srgb", "components": [0, 0, 0], "hex": colour}
    parts = [int(colour[at : at + 2], 16) / 255 for at in range(1, len(colour), 2)]
    components: dict[str, Any] = {
        "colorSpace": "srgb", "components": [round(part, 6) for part in parts[:3]]}
    if len(parts) == 4:
        components["alpha"] = round(parts[3], 6)
    return components | {"hex": colour[:7].lower()}


def _plain(value: Any) -> Any:
    return int(value) if isinstance(value, float) and value.is_integer() else value


def with_tokens(kit: Kit, tokens: Tokens) -> Kit:
    """The kit with the tokens in its palette; entries of the same name take the new values."""
    new: dict[str, Any] = {swatch.name: swatch for swatch in tokens.palette}
    new |= {entry.name: entry for entry in tokens.values}
    palette = [new.get(swatch.name, swatch) if isinstance(new.get(swatch.name), Swatch) else swatch
               for swatch in kit.palette]
    values = [new.get(entry.name, entry) if isinstance(new.get(entry.name), PaletteValue) else entry
               for entry in kit.values]
    have = {swatch.name for swatch in kit.palette} | {entry.name for entry in kit.values}
    palette += [swatch for swatch in tokens.palette if swatch.name not in have]
    values += [entry for entry in tokens.values if entry.name not in have]
    merged = {**(kit.tokens or {}), **tokens.source}
    if depth(merged) > DEEPEST_JSON:
        raise TokenError(f"the tokens are nested deeper than {DEEPEST_JSON} levels.")
    return checked(kit.model_copy(update={
        "palette": tuple(palette), "values": tuple(values), "tokens": merged}), kit)
