"""``background``: its colour and gradients, each where its size, position and repeat put it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from mektel.formats.css.borders import Border, inside
from mektel.formats.css.gradients import fill_values, is_gradient
from mektel.formats.css.lengths import Scale, colour, is_length, length
from mektel.formats.css.outlines import composed
from mektel.formats.css.pictures import drawing_in, drawn_size, layers_of, size_of, url_in
from mektel.formats.css.reader import Reader
from mektel.formats.css.tiles import AXES, repeated
from mektel.formats.css.tokens import CssError, Declared, components, split_by, text_of

BOXES = ("border-box", "padding-box", "content-box")
PLACES = ("left", "right", "top", "bottom", "center")
REPEATS = ("repeat", "no-repeat", "repeat-x", "repeat-y", "round", "space")
# One word for each axis, as one for both.
BY_AXIS = {"no-repeat no-repeat": "no-repeat", "repeat repeat": "repeat", "round round": "round",
           "repeat no-repeat": "repeat-x", "no-repeat repeat": "repeat-y"}
EDGES = {"left": (0, 0.0), "right": (0, 1.0), "top": (1, 0.0), "bottom": (1, 1.0)}
# Px by which a box is made larger to see how a place depends on it.
FARTHER = 100.0
PARTS = ("image", "color", "size", "position", "repeat", "origin", "clip")


@dataclass(frozen=True)
class Image:
    """One entry of ``background-image`` and what goes with it; tokens where they are not read."""

    image: Any = None
    size: tuple[Any, ...] = ()
    position: tuple[Any, ...] = ()
    repeat: str = "repeat"
    origin: str = "padding-box"
    clip: str = "border-box"


def background_layers(
    reader: Reader, scale: Scale, current: str, outline: dict[str, Any],
    size: tuple[float, float], border: Border,
) -> dict[str, dict[str, Any]]:
    """The colour and gradients of a box of ``size`` px, the hindmost first."""
    images, tone = _declared(reader, current)
    layers: dict[str, dict[str, Any]] = {}
    clip = images[-1].clip if images else "border-box"
    if tone and tone != "#00000000":
        layers["background"] = {
            "kind": "fill", "name": "Background", "style": "solid", "colour": tone}
        if clip != "border-box" and border.any:
            layers["background"]["outline"] = inside(outline, _edges(reader, scale, border, clip))
    modes = reader.take("background-blend-mode", lambda d: [
        t.lower_value for t in components(d.tokens) if t.type == "ident"], [])
    line = reader.line_of("background", "background-image")
    shown = [entry for entry in images if entry.image is not None]
    for at, entry in reversed(list(enumerate(shown, 1))):
        name = "Gradient" if len(shown) == 1 else f"Gradient {at}"
        try:
            if (url := url_in(entry.image)) is not None:
                layers |= _picture(entry, url, at, reader, scale, size, border)
                continue
            values = _gradient(entry, reader, scale, current, outline, size, border)
        except CssError as error:
            reader.sheet.leave(line, f"{_called(entry.image)}: {error}")
            continue
        except Exception:
            reader.sheet.leave(line, f"{_called(entry.image)}: cannot be read")
            continue
        if modes and modes[(at - 1) % len(modes)] != "normal":
            values["blend"] = modes[(at - 1) % len(modes)]
        layers[f"gradient-{at}"] = {"kind": "fill", "name": name, **values}
    return layers


def _called(image: Any) -> str:
    if (url := url_in(image)) is not None:
        return f"url({url})" if len(url) <= 40 else f"url({url[:30]}…)"
    return str(getattr(image, "name", "")) or text_of([image])[:40]


def _declared(reader: Reader, current: str) -> tuple[list[Image], str]:
    """What the shorthand and its parts come to, in the order of precedence."""
    images: list[Image] = []
    tone = ""
    for name in reader.declared:
        if name == "background":
            images, tone = reader.take(
                name, lambda d: _shorthand(d, current, reader), ([], ""))
        elif name == "background-color":
            tone = reader.take(name, lambda d: _tone(d, current), "")
        elif name == "background-image":
            entries = reader.take(name, lambda d: [
                _image(part, d, reader) for part in split_by(d.tokens, ",")], [])
            images = [replace(images[at % len(images)] if images else Image(), image=entry)
                      for at, entry in enumerate(entries)]
    for name in ("size", "position", "repeat", "origin", "clip"):
        parts = reader.take(f"background-{name}", lambda d: [
            components(part) for part in split_by(d.tokens, ",")], [])
        if parts and images:
            images = [_with(entry, name, parts[at % len(parts)])
                      for at, entry in enumerate(images)]
        elif parts:
            images = [_with(Image(), name, parts[0])]
    return images, tone


def _with(entry: Image, name: str, tokens: list[Any]) -> Image:
    if name == "size":
        return replace(entry, size=tuple(tokens))
    if name == "position":
        return replace(entry, position=tuple(tokens))
    word = " ".join(token.lower_value for token in tokens if token.type == "ident")
    known = REPEATS if name == "repeat" else (*BOXES, "text")
    if name == "repeat":
        word = BY_AXIS.get(word, word)
    if word not in known:
        return entry
    changed: dict[str, Any] = {name: word}
    return replace(entry, **changed)


def _tone(declared: Declared, current: str) -> str:
    tone = colour(components(declared.tokens)[0], current)
    if tone is None:
        raise CssError(declared.text[:60])
    return tone


def _image(tokens: list[Any], declared: Declared, reader: Reader) -> Any:
    token = (components(tokens) or [None])[0]
    if token is None or (token.type == "ident" and token.lower_value == "none"):
        return None
    if not is_gradient(token) and url_in(token) is None:
        reader.sheet.leave(declared.line, f"{text_of([token])[:60]} in background")
        return None
    return token


def _shorthand(declared: Declared, current: str, reader: Reader) -> tuple[list[Image], str]:
    images, tone = [], ""
    for part in split_by(declared.tokens, ","):
        entry, sized = Image(), False
        boxes: list[str] = []
        repeats: list[str] = []
        for token in components(part):
            shade = colour(token, current)
            word = token.lower_value if token.type == "ident" else ""
            if is_gradient(token) or url_in(token) is not None:
                entry = replace(entry, image=token)
            elif token.type == "literal" and token.value == "/":
                sized = True
            elif sized and (is_length(token) or word in ("cover", "contain", "auto")):
                entry = replace(entry, size=(*entry.size, token))
            elif is_length(token) or word in PLACES:
                entry = replace(entry, position=(*entry.position, token))
            elif word in REPEATS:
                repeats.append(word)
            elif word in BOXES or word == "text":
                boxes.append(word)
            elif shade is not None:
                tone = shade
            elif word not in ("none", "scroll", "fixed", "local"):
                reader.sheet.leave(declared.line, f"{text_of([token])[:60]} in background")
        if boxes:
            entry = replace(entry, origin=boxes[0], clip=boxes[-1])
        if repeats:
            word = " ".join(repeats)
            entry = replace(entry, repeat=BY_AXIS.get(word, word))
        images.append(entry)
    return images, tone


def _edges(
    reader: Reader, scale: Scale, border: Border, box: str
) -> tuple[float, float, float, float]:
    """How far within the border box another box begins, from the top clockwise."""
    if box == "border-box":
        return (0.0,) * 4
    top, right, bottom, left = border.widths
    if box == "content-box":
        padding = reader.padding(scale)
        return (top + padding[0], right + padding[1], bottom + padding[2], left + padding[3])
    return top, right, bottom, left


def _gradient(
    entry: Image, reader: Reader, scale: Scale, current: str, outline: dict[str, Any],
    size: tuple[float, float], border: Border,
) -> dict[str, Any]:
    edges = _edges(reader, scale, border, entry.origin)
    top, right, bottom, left = edges
    box = (max(1.0, size[0] - left - right), max(1.0, size[1] - top - bottom))
    if entry.clip == "text":
        raise CssError("clipped to the text")
    tile = _tile(entry, box, scale)
    if tile is None or tile == box:
        values = fill_values(entry.image, box, scale, current)
        if entry.clip != "border-box":
            return {"outline": inside(outline, _edges(reader, scale, border, entry.clip)), **values}
        if len(set(edges)) == 1:
            # The gradient spans the padding box and is repeated under a border that shows it.
            return {**({"expand": -top} if border.hides and top else {"origin": top}), **values}
        return {"outline": inside(outline, edges), **values}
    if min(tile) <= 0:
        raise CssError("a tile of no size")
    if entry.repeat != "no-repeat":
        # What an opaque border hides needs no tiles.
        hidden = border.hides and entry.clip == "border-box"
        clip = _edges(reader, scale, border, "padding-box" if hidden else entry.clip)
        return _tiled(entry, box, tile, edges, clip, scale, current, outline, size)
    x, y = _placed(entry, box, tile, scale)
    return {"outline": _boxed(outline, ((0.0, left + x), (0.0, tile[0])),
                              ((0.0, top + y), (0.0, tile[1]))),
            **fill_values(entry.image, tile, scale, current)}


def _tiled(
    entry: Image, box: tuple[float, float], tile: tuple[float, float],
    edges: tuple[float, ...], clip: tuple[float, ...], scale: Scale, current: str,
    outline: dict[str, Any], size: tuple[float, float],
) -> dict[str, Any]:
    """A gradient in tiles that repeat, within the box that it is clipped to."""
    axes = AXES.get(entry.repeat)
    if axes is None:
        raise CssError("tiles with space between them")
    if entry.repeat == "round":
        tile = (box[0] / max(1, round(box[0] / tile[0])), box[1] / max(1, round(box[1] / tile[1])))
    places = [inset + at for inset, at in zip(
        (edges[3], edges[0]), _placed(entry, box, tile, scale), strict=True)]
    rooms = ((clip[3], clip[1]), (clip[0], clip[2]))
    # One tile that covers all does not repeat.
    across, down = (repeats and not (place <= before and place + long >= full - after)
                    for repeats, place, long, full, (before, after) in zip(
                        axes, places, tile, size, rooms, strict=True))
    values, line = repeated(
        fill_values(entry.image, tile, scale, current), tile, (across, down))
    spans, ends = [], [0.0] * 4
    for axis, (before, after) in enumerate(rooms):
        start, end, place = before, size[axis] - after, places[axis]
        if axes[axis]:
            spans.append(((0.0, before), (1.0, -before - after)))
            place -= math.ceil((place - start) / tile[axis]) * tile[axis]
        else:
            start, end = max(start, place), min(end, place + tile[axis])
            spans.append(((0.0, start), (0.0, end - start)))
        if end <= start:
            raise CssError("a tile beside its box")
        for at in (axis, axis + 2):
            ends[at] = (place + line[at] - start) / (end - start)
    values["ends"] = tuple(ends)
    if not all(axes):
        return {"outline": _boxed(outline, *spans), **values}
    return {"outline": inside(outline, clip), **values} if any(clip) else values


def _boxed(
    outline: dict[str, Any], across: tuple[Any, Any], down: tuple[Any, Any]
) -> dict[str, Any]:
    """A box by its spans, each a start and a length, within the rounded corners of another."""
    made = {"form": "box", "corners": (0.0,) * 4, "x": across[0], "y": down[0],
            "width": across[1], "height": down[1]}
    if any(outline["corners"]):
        whole = {**outline, "form": "box", "operation": "intersection"}
        made["joins"] = [{name: whole[name] for name in (
            "form", "corners", "vertical_radii", "operation")}]
    return made


def _picture(
    entry: Image, url: str, at: int, reader: Reader, scale: Scale, size: tuple[float, float],
    border: Border,
) -> dict[str, dict[str, Any]]:
    """A drawing in the sheet as layers, in the box that its size and position give it."""
    top, right, bottom, left = _edges(reader, scale, border, entry.origin)
    box = (max(1.0, size[0] - left - right), max(1.0, size[1] - top - bottom))
    content = drawing_in(url)
    words = [token.lower_value for token in entry.size if token.type == "ident"]
    asked = "contain" if "contain" in words else "cover" if "cover" in words else tuple(
        None if token.type == "ident" else length(token, scale, box[side])
        for side, token in enumerate(entry.size[:2]))
    if isinstance(asked, tuple):
        asked = (*asked, None, None)[:2]
    tile = drawn_size(asked, size_of(content), box)  # type: ignore[arg-type]
    if min(tile) < 0.5:
        raise CssError("a picture of no size")
    if entry.repeat != "no-repeat" and (tile[0] < box[0] - 1 or tile[1] < box[1] - 1):
        raise CssError("tiles that repeat")
    spot, farther = (_placed(entry, (box[0] + more, box[1] + more), tile, scale)
                     for more in (0.0, FARTHER))
    if any(start < -edge - 0.5 or start + long > inner + after + 0.5 for start, long, inner, edge,
           after in zip(spot, tile, box, (left, top), (right, bottom), strict=True)):
        raise CssError("a picture that is cut off")
    spans = []
    for start, far, long, edge, full in zip(spot, farther, tile, (left, top), size, strict=True):
        # What it moves by where the control is larger says which share its place is.
        share = round((far - start) / FARTHER, 6)
        spans.append(((share, edge + start - share * full), (0.0, long)))
    made, skipped = layers_of(content, tile)
    for what in skipped:
        reader.sheet.leave(reader.line_of("background-image", "background"), f"picture: {what}")
    return {f"picture-{at}-{layer['id']}": {
        **{name: value for name, value in layer.items() if name != "id"},
        "outline": {**layer["outline"], **composed(spans, layer["outline"])}} for layer in made}


def _tile(entry: Image, box: tuple[float, float], scale: Scale) -> tuple[float, float] | None:
    """The size of the image in px (CSS Backgrounds 3, 3.9); None for that of its box."""
    sides: list[float] = []
    for at, token in enumerate(entry.size[:2]):
        if token.type == "ident":
            if token.lower_value in ("cover", "contain"):
                return None
            sides.append(box[at])
        else:
            sides.append(length(token, scale, box[at]))
    if not sides:
        return None
    return (sides[0], sides[1] if len(sides) > 1 else box[1])


def _placed(
    entry: Image, box: tuple[float, float], tile: tuple[float, float], scale: Scale
) -> tuple[float, float]:
    """Where the tile begins, in px: percentages are of the room that it leaves."""
    if len(entry.position) > 2:
        return _from_edges(entry, box, tile, scale)
    spot = [0.0, 0.0]
    axis = 0
    words = EDGES
    given = entry.position[:2]
    if len(given) == 1 and not (given[0].type == "ident" and given[0].lower_value in (
            "top", "bottom")):
        spot[1] = (box[1] - tile[1]) / 2
    elif len(given) == 1:
        spot[0] = (box[0] - tile[0]) / 2
    for token in given:
        if token.type == "ident" and token.lower_value in words:
            at, share = words[token.lower_value]
            spot[at] = (box[at] - tile[at]) * share
            axis = 1 - at
        elif token.type == "ident":
            spot[axis] = (box[axis] - tile[axis]) / 2
            axis = 1
        elif token.type == "percentage":
            spot[axis] = (box[axis] - tile[axis]) * float(token.value) / 100
            axis = 1
        else:
            spot[axis] = length(token, scale)
            axis = 1
    return spot[0], spot[1]


def _from_edges(
    entry: Image, box: tuple[float, float], tile: tuple[float, float], scale: Scale
) -> tuple[float, float]:
    """Where it begins if edges are named with offsets from them: three or four values."""
    spot = [(box[at] - tile[at]) / 2 for at in (0, 1)]
    axis, share = 0, 0.0
    for token in entry.position[:4]:
        if token.type == "ident" and token.lower_value in EDGES:
            axis, share = EDGES[token.lower_value]
            spot[axis] = (box[axis] - tile[axis]) * share
        elif token.type != "ident":
            offset = length(token, scale, box[axis] - tile[axis])
            spot[axis] += -offset if share else offset
    return spot[0], spot[1]
