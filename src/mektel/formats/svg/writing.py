"""Looks as SVG: shapes as paths, blurs as filters, letters as outlines; what SVG has nothing for is
a picture.
"""

from __future__ import annotations

import math
import re
from base64 import b64encode
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from mektel.core.look import (
    BevelLook,
    FillLook,
    Gradient,
    GroupLook,
    InnerShadowLook,
    LabelLook,
    LensLook,
    LineLook,
    Look,
    PictureLook,
    ShadowLook,
    StrokeLook,
)
from mektel.core.look.look import SIGMAS
from mektel.core.look.paints import RGBA, Paint
from mektel.core.paint import render
from mektel.core.shape import AnyOutline, FreeOutline, Outline, polygons
from mektel.core.text import shape_line
from mektel.formats.png import png_bytes

# Pixels per px of what becomes a picture.
DENSITY = 3
# Between stops of unlike opacity SVG mixes straight colours, and we premultiplied ones: so many
# stops more are alike within a step of 255.
STEPS = 12
EQUAL = 1e-6
TO_ESCAPE = re.compile(r"[^\t\n -\x7e]|[&<>\"]")
Attributes = dict[str, str]
Stops = list[tuple[float, RGBA]]


class Writer:
    """Markup of layers, and ``defs`` that it refers to: each once, under a name with a prefix."""

    def __init__(self, look: Look, prefix: str = "") -> None:
        self.look, self.prefix = look, prefix
        # Name by element: tag, attributes and content.
        self._defs: dict[tuple[str, tuple[tuple[str, str], ...], str], str] = {}

    @property
    def defs(self) -> str:
        return "".join(_tag(tag, {"id": name, **dict(values)}, inner)
                       for (tag, values, inner), name in self._defs.items())

    def layer(self, look: Any) -> str:
        """A primitive or a group; empty where it draws nothing."""
        if isinstance(look, GroupLook):
            inner = "".join(self.layer(member) for member in look.members)
            matrix = look.matrix and f"matrix({' '.join(_number(n, 5) for n in look.matrix)})"
            return _tag("g", {"transform": matrix or "", "opacity": _opacity(look.opacity),
                              "style": _blend(look.blend)}, inner) if inner else ""
        if _needs_picture(look):
            return self._picture(look)
        return str(getattr(self, WRITERS[type(look)])(look))

    def _named(self, tag: str, values: Attributes, inner: str) -> str:
        key = tag, tuple(values.items()), inner
        name = self._defs.setdefault(key, f"{self.prefix}{len(self._defs) + 1}")
        return f"url(#{name})"

    # Primitives

    def _fill(self, look: FillLook) -> str:
        clip = "" if look.clip is None else self._clip(look.clip)
        return self._path(look.outline, self._painted(look.paint) | {
            "clip-path": clip, "style": _blend(look.blend)})

    def _line(self, look: LineLook) -> str:
        middle = _middle(look.outer, look.inner)
        if middle is not None:
            width = _number(look.outer.width - middle.width)
            return _simple(middle, {
                "fill": "none", **self._painted(look.paint, "stroke"), "stroke-width": width,
                "style": _blend(look.blend)})
        d = f"{path_data(look.outer)}{path_data(look.inner)}"
        return _tag("path", {"d": d, "fill-rule": "evenodd", **self._painted(look.paint),
                             "style": _blend(look.blend)}) if d else ""

    def _shadow(self, look: ShadowLook) -> str:
        whole = look.cut is None
        shape = self._path(look.outline, _coloured("fill", look.colour) | {
            "filter": self._blur(look.sigma, look.extent()),
            "style": _blend(look.blend) if whole else ""})
        if look.cut is None or not shape:
            return shape
        cut = self._clip(look.cut, _grown_box(look.extent(), 1 + look.sigma))
        return _tag("g", {"clip-path": cut, "style": _blend(look.blend)}, shape)

    def _inner_shadow(self, look: InnerShadowLook) -> str:
        around = _grown_box(look.extent(), 2 * SIGMAS * look.sigma + 2)
        frame = f"{_box_data(around)}{path_data(look.hole)}"
        shape = _tag("path", {
            "d": frame, "fill-rule": "evenodd", **_coloured("fill", look.colour),
            "filter": self._blur(look.sigma, around)})
        return _tag("g", {"clip-path": self._clip(look.outline), "style": _blend(look.blend)},
                    shape)

    def _strokes(self, look: StrokeLook) -> str:
        d = "".join(_lines(line, closed=False) for line in look.lines)
        return _tag("path", {
            "d": d, "fill": "none", **self._painted(look.paint, "stroke"),
            "stroke-width": _number(look.width), "stroke-linecap": "round",
            "stroke-linejoin": "round", "style": _blend(look.blend)})

    def _label(self, look: LabelLook) -> str:
        d = _letters(look.text, look.family, look.weight, look.size, look.spacing, look.x,
                     look.baseline)
        if not d:
            return ""
        values = {"d": d, "style": _blend(look.blend), "class": "text"}
        if look.sigma:
            values["filter"] = self._blur(look.sigma, look.extent())
        if not look.swell:
            return _tag("path", values | self._painted(look.paint))
        painted, opacity = look.paint, 1.0
        if not isinstance(painted, Gradient):  # fill and stroke lie on each other
            painted, opacity = (*painted[:3], 1.0), painted[3]
        return _tag("path", values | self._painted(painted) | self._painted(painted, "stroke") | {
            "opacity": _opacity(opacity), "stroke-width": _number(2 * look.swell),
            "stroke-linejoin": "round"})

    def _picture(self, look: Any) -> str:
        """What SVG has no way to draw, as it looks with nothing behind it."""
        alone = replace(self.look, layers=(replace(look, blend="normal"),), opacity=1.0)
        room = alone.margins()
        picture = render(alone, DENSITY, room).rgba
        rows, columns = (np.flatnonzero(picture[:, :, 3].any(axis=axis)) for axis in (1, 0))
        if not len(rows):
            return ""
        top, left = (int(at[0]) // DENSITY for at in (rows, columns))
        bottom, right = (int(at[-1]) // DENSITY + 1 for at in (rows, columns))
        part = picture[top * DENSITY : bottom * DENSITY, left * DENSITY : right * DENSITY]
        return _tag("image", {
            "x": _number(left - room.left), "y": _number(top - room.top),
            "width": _number(right - left), "height": _number(bottom - top),
            "preserveAspectRatio": "none", "style": _blend(look.blend),
            "href": f"data:image/png;base64,{b64encode(png_bytes(part)).decode()}"})

    # What they refer to

    def _path(self, outline: AnyOutline, values: Attributes) -> str:
        if isinstance(outline, Outline) and _is_simple(outline):
            return _simple(outline, values)
        d = path_data(outline)
        return _tag("path", {"d": d, "fill-rule": _rule(outline), **values}) if d else ""

    def _clip(self, outline: AnyOutline, around: Sequence[float] | None = None) -> str:
        """What lies within an outline, or of a box around it what lies outside."""
        rule = _rule(outline) if around is None else "evenodd"
        d = path_data(outline) if around is None else f"{_box_data(around)}{path_data(outline)}"
        return self._named("clipPath", {}, _tag("path", {"d": d, "clip-rule": rule}))

    def _blur(self, sigma: float, box: Sequence[float]) -> str:
        if not sigma:
            return ""
        x0, y0, x1, y1 = _grown_box(box, SIGMAS * sigma + 1)
        return self._named("filter", {
            "filterUnits": "userSpaceOnUse", "x": _number(x0), "y": _number(y0),
            "width": _number(x1 - x0), "height": _number(y1 - y0),
            "color-interpolation-filters": "sRGB",
        }, _tag("feGaussianBlur", {"stdDeviation": _number(sigma)}))

    def _painted(self, paint: Paint, what: str = "fill") -> Attributes:
        if not isinstance(paint, Gradient):
            return _coloured(what, paint)
        low, high = (paint.stops[at][0] for at in (0, -1))
        # SVG has stops from 0 to 1, and repeats all that lies between these.
        whole = paint.spread == "pad" and low >= 0 and high <= 1
        low, high = (0.0, 1.0) if whole else (low, max(high, low + 1e-6))
        stops = [((at - low) / (high - low), colour) for at, colour in paint.stops]
        values = {"gradientUnits": "userSpaceOnUse"}
        if paint.spread != "pad":
            values["spreadMethod"] = {"repeat": "repeat", "mirror": "reflect"}[paint.spread]
        if paint.kind == "linear":
            x0, y0, x1, y1 = paint.geometry
            ends = [start + (end - start) * share for share in (low, high)
                    for start, end in ((x0, x1), (y0, y1))]
            values |= {name: _number(at) for name, at in zip(
                ("x1", "y1", "x2", "y2"), ends, strict=True)}
        else:
            cx, cy, rx, ry = paint.geometry
            values |= {"cx": "0", "cy": "0", "r": _number(high), "gradientTransform":
                       f"translate({_number(cx)} {_number(cy)}) scale({_number(rx)} {_number(ry)})"}
            stops = [(at * (high - low) / high + low / high, colour) for at, colour in stops]
        inner = "".join(_tag("stop", {"offset": _number(at, 5), **_coloured("stop", colour)})
                        for at, colour in straight_stops(stops))
        return {what: self._named(f"{paint.kind}Gradient", values, inner)}


WRITERS: dict[type, str] = {
    FillLook: "_fill", LineLook: "_line", ShadowLook: "_shadow", InnerShadowLook: "_inner_shadow",
    StrokeLook: "_strokes", LabelLook: "_label"}


def _needs_picture(look: Any) -> bool:
    """Whether SVG has nothing that draws a primitive as it is."""
    if isinstance(look, BevelLook | LensLook | PictureLook):
        return True
    paint = getattr(look, "paint", None)
    if not isinstance(paint, Gradient):
        return False
    first, last = (paint.stops[at][0] for at in (0, -1))
    # Circles are repeated from their centre alone.
    ring = paint.kind == "radial" and (last <= 0 or (paint.spread != "pad" and first != 0))
    return paint.kind == "conic" or paint.tile is not None or ring


def svg_document(
    body: str, defs: str, box: Sequence[float], title: str, more: Attributes | None = None
) -> str:
    """A whole drawing; ``box`` is x, y, width and height of what it shows, in px."""
    x, y, width, height = (_number(length) for length in box)
    inner = _tag("title", {}, _escaped(title)) + (_tag("defs", {}, defs) if defs else "") + body
    return _tag("svg", {
        "xmlns": "http://www.w3.org/2000/svg", "width": width, "height": height,
        "viewBox": f"{x} {y} {width} {height}", **(more or {})}, inner) + "\n"


def drawing_of(look: Look, title: str, box: Sequence[float]) -> str:
    """A look as one drawing; layers that a blend mode mixes are mixed among themselves."""
    writer = Writer(look, "d")
    layers = "".join(writer.layer(layer) for layer in look.layers)
    body = _tag("g", {"opacity": _opacity(look.opacity), "style": "isolation:isolate"}, layers)
    return svg_document(body, writer.defs, box, title)


def straight_stops(stops: Stops) -> Stops:
    """Stops between which straight colours are mixed as premultiplied ones are between these.

    >>> white, none = (1.0, 1.0, 1.0, 1.0), (0.0, 0.0, 0.0, 0.0)
    >>> straight_stops([(0.0, white), (1.0, none)])
    [(0.0, (1.0, 1.0, 1.0, 1.0)), (1.0, (1.0, 1.0, 1.0, 0.0))]
    """
    made: Stops = []
    for (at, first), (to, second) in pairwise(stops):
        start, end = first, second
        if first[3] == 0:
            start = (*second[:3], 0.0)
        elif second[3] == 0:
            end = (*first[:3], 0.0)
        made.append((at, start))
        if first[3] and second[3] and first[3] != second[3] and first[:3] != second[:3]:
            for step in range(1, STEPS):
                share = step / STEPS
                alpha = first[3] + (second[3] - first[3]) * share
                mixed = [(a * first[3] * (1 - share) + b * second[3] * share) / alpha
                         for a, b in zip(first[:3], second[:3], strict=True)]
                made.append((at + (to - at) * share, (mixed[0], mixed[1], mixed[2], alpha)))
        made.append((to, end))
    made = made or list(stops)
    return [stop for n, stop in enumerate(made) if n == 0 or stop != made[n - 1]]


# Shapes: browsers draw the edges of boxes and ellipses finer than those of paths.

def _is_simple(outline: Outline) -> bool:
    """Whether all its corners are alike."""
    return (outline.width > 0 and outline.height > 0
            and len(set(outline.rx)) == len(set(outline.ry)) == 1)


def _simple(outline: Outline, values: Attributes) -> str:
    width, height, (rx, *_), (ry, *_) = outline.width, outline.height, outline.rx, outline.ry
    if rx and ry and abs(2 * rx - width) < EQUAL and abs(2 * ry - height) < EQUAL:
        place = {"cx": outline.x + rx, "cy": outline.y + ry, "rx": rx, "ry": ry}
        return _tag("ellipse", {name: _number(at) for name, at in place.items()} | values)
    place = {"x": outline.x, "y": outline.y, "width": width, "height": height}
    if rx and ry:
        place |= {"rx": rx, "ry": ry}
    return _tag("rect", {name: _number(at) for name, at in place.items()} | values)


def _middle(outer: AnyOutline, inner: AnyOutline) -> Outline | None:
    """The outline that a stroke of one width follows to fill what lies between two; None where
    there is none.
    """
    if not isinstance(outer, Outline) or not isinstance(inner, Outline) or not (
            _is_simple(outer) and _is_simple(inner)):
        return None
    half = (outer.width - inner.width) / 4
    middle = outer.grown(-half)
    ends = ((middle.grown(half), outer), (middle.grown(-half), inner))
    same = all(abs(a - b) < EQUAL for first, second in ends for a, b in zip(
        (first.x, first.y, first.width, first.height, first.rx[0], first.ry[0]),
        (second.x, second.y, second.width, second.height, second.rx[0], second.ry[0]),
        strict=True))
    # The stroke of an ellipse is as wide everywhere; what lies between two ellipses is not.
    return middle if same and middle.rx[0] == middle.ry[0] else None


# Path data

def path_data(outline: AnyOutline) -> str:
    """An outline as path data (SVG 2); empty where it has no area."""
    if outline.width <= 0 or outline.height <= 0:
        return ""
    if isinstance(outline, FreeOutline):
        return "".join(_lines(ring) for ring in polygons(outline))
    return _rounded_box(outline)


def _rule(outline: AnyOutline) -> str:
    """Traced edges are apart; given ones fill what they go round at all."""
    traced = isinstance(outline, FreeOutline) and bool(outline.grow or outline.joins)
    return "evenodd" if traced else ""


def _rounded_box(box: Outline) -> str:
    left, top = box.x, box.y
    right, bottom = left + box.width, top + box.height
    (a, b, c, d), (e, f, g, h) = box.rx, box.ry
    n = _number
    corners = (
        f"M{n(left + a)} {n(top)}H{n(right - b)}", _arc(b, f, right, top + f),
        f"V{n(bottom - g)}", _arc(c, g, right - c, bottom), f"H{n(left + d)}",
        _arc(d, h, left, bottom - h), f"V{n(top + e)}", _arc(a, e, left + a, top), "Z")
    return "".join(corners)


def _arc(rx: float, ry: float, x: float, y: float) -> str:
    n = _number
    return f"A{n(rx)} {n(ry)} 0 0 1 {n(x)} {n(y)}" if rx > 0 and ry > 0 else f"L{n(x)} {n(y)}"


@lru_cache(maxsize=256)
def _letters(
    text: str, family: str, weight: int, size: float, spacing: float, x: float, baseline: float
) -> str:
    """A line of text as path data, its pen beginning at a spot."""
    contours = shape_line(text, family, weight, size, spacing).contours
    return "".join(_lines(contour + (x, baseline)) for contour in contours)  # noqa: RUF005


def _lines(points: ArrayLike, closed: bool = True) -> str:
    """Path data of a line, (n, 2), to hundredths of a px."""
    spots = np.round(np.asarray(points, np.float64), 2) + 0.0  # no minus before a zero
    if not len(spots):
        return ""
    text = " ".join(["%g" % at for at in spots.ravel().tolist()])  # noqa: UP031
    return f"M{text}{'Z' if closed else ''}"


def _box_data(box: Sequence[float]) -> str:
    x0, y0, x1, y1 = (_number(at) for at in box)
    return f"M{x0} {y0}H{x1}V{y1}H{x0}Z"


def _grown_box(box: Sequence[float], by: float) -> tuple[float, float, float, float]:
    x0, y0, x1, y1 = box
    return x0 - by, y0 - by, x1 + by, y1 + by


# Markup

def _tag(name: str, values: Attributes, inner: str = "") -> str:
    """An element; attributes without a value are left out."""
    written = "".join(f' {key}="{_escaped(value)}"' for key, value in values.items() if value)
    start = f"<{name}{written}"
    return f"{start}>{inner}</{name}>" if inner else f"{start}/>"


def _escaped(text: str) -> str:
    """A text as XML holds it: characters that it has no way to write are left out."""
    if not TO_ESCAPE.search(text):
        return text
    # Two halves of a letter, as a formula can have them, are that letter.
    text = text.encode("utf-16", "surrogatepass").decode("utf-16", "ignore")
    kept = "".join(c for c in text if c in "\t\n" or (ord(c) >= 32 and c not in "\ufffe\uffff"))
    return kept.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace(
        '"', "&quot;")


def _coloured(what: str, colour: RGBA) -> Attributes:
    red, green, blue = (min(255, max(0, round(255 * value))) for value in colour[:3])
    name = "stop-color" if what == "stop" else what
    return {name: f"#{red:02x}{green:02x}{blue:02x}", f"{what}-opacity": _opacity(colour[3])}


def _opacity(value: float) -> str:
    return "" if value >= 1 else _number(value, 4)


def _blend(mode: str) -> str:
    return "" if mode == "normal" else f"mix-blend-mode:{mode}"


def _number(value: float, digits: int = 3) -> str:
    if not math.isfinite(value):
        raise ValueError(f"{value} is not a number that a drawing can hold")
    text = f"{round(value, digits) + 0.0:.{digits}f}"  # no minus before a zero
    return text.rstrip("0").rstrip(".") if "." in text else text
