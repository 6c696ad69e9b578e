"""Filters of a drawing worked out on pixels (W3C Filter Effects 1), for what no layer can say.

Pictures are premultiplied RGBA, float, shape (height, width, 4), 0 to 1.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from mektel.core.paint.blend import SEPARABLE, blend
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.paint import share, solid
from mektel.formats.svg.shapes import to_number

Floats = NDArray[np.float64]
MOST_STEPS, WIDEST_BLUR = 40, 250.0
# sRGB luminance weights as Filter Effects 1 gives them.
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
KNOWN = {
    "feGaussianBlur", "feOffset", "feFlood", "feColorMatrix", "feComposite", "feBlend", "feMerge",
    "feMorphology", "feDropShadow", "feComponentTransfer",
}


class NoSuchFilterError(Exception):
    """A filter that is not worked out, and why; the text is fit for the user."""


def filtered(
    source: Floats, filter_node: Node, drawing: Drawing, scale: float, in_box: tuple[float, float],
) -> Floats:
    """``source`` after a filter. ``scale`` is pixels per user unit; ``in_box`` what a unit of
    ``primitiveUnits="objectBoundingBox"`` is, in pixels. Raises :class:`NoSuchFilterError`.
    """
    steps = [step for step in filter_node.children if step.tag.startswith("fe")]
    if len(steps) > MOST_STEPS:
        raise NoSuchFilterError(f"its filter has more than {MOST_STEPS} steps")
    worker = _Worker(source, filter_node, drawing, scale, in_box)
    for step in steps:
        if step.tag not in KNOWN:
            raise NoSuchFilterError(f"its filter has a step {step.tag}, which is not worked out")
        result = worker.run(step)
        worker.last = result
        if step.get("result"):
            worker.named[step.get("result")] = result
    return worker.last if steps else np.zeros_like(source)


class _Worker:
    def __init__(self, source: Floats, filter_node: Node, drawing: Drawing, scale: float,
                 in_box: tuple[float, float]) -> None:
        self.source, self.last = source, source
        self.named: dict[str, Floats] = {}
        self.drawing = drawing
        boxed = filter_node.get("primitiveUnits") == "objectBoundingBox"
        self.units = in_box if boxed else (scale, scale)
        self.filter_node = filter_node

    def run(self, step: Node) -> Floats:
        linear = (step.get("color-interpolation-filters")
                  or self.filter_node.inherited("color-interpolation-filters")
                  or "linearRGB") != "sRGB"
        picture = self._input(step.get("in"))
        work = getattr(self, f"_{step.tag[2:].lower()}")
        if step.tag in ("feOffset", "feMorphology", "feFlood", "feDropShadow"):
            return np.asarray(work(step, picture))
        other = self._input(step.get("in2"), self.source)
        if linear:
            picture, other = _to_linear(picture), _to_linear(other)
        made = np.clip(work(step, picture, other, linear), 0.0, 1.0)
        made[:, :, :3] = np.minimum(made[:, :, :3], made[:, :, 3:])
        return _from_linear(made) if linear else made

    def _input(self, name: str, default: Floats | None = None) -> Floats:
        if name == "SourceGraphic":
            return self.source
        if name == "SourceAlpha":
            made = np.zeros_like(self.source)
            made[:, :, 3] = self.source[:, :, 3]
            return made
        if name in ("BackgroundImage", "BackgroundAlpha", "FillPaint", "StrokePaint"):
            raise NoSuchFilterError(f"its filter uses {name}, which no browser gives it")
        if name in self.named:
            return self.named[name]
        return self.last if default is None else default

    def _gaussianblur(
        self, step: Node, picture: Floats, other: Floats, linear: bool
    ) -> Floats:
        return self._blurred(picture, step.get("stdDeviation", "0"))

    def _blurred(self, picture: Floats, text: str) -> Floats:
        words = text.replace(",", " ").split() or ["0"]
        across = to_number(words[0]) * self.units[0]
        down = to_number(words[-1]) * self.units[1]
        if min(across, down) < 0 or max(across, down) > WIDEST_BLUR:
            raise NoSuchFilterError("its filter blurs too widely")
        return np.asarray(ndimage.gaussian_filter(
            picture, (down, across, 0), mode="constant", truncate=3.5))

    def _offset(self, step: Node, picture: Floats) -> Floats:
        return self._moved(picture, to_number(step.get("dx")), to_number(step.get("dy")))

    def _moved(self, picture: Floats, dx: float, dy: float) -> Floats:
        dx, dy = dx * self.units[0], dy * self.units[1]
        if max(abs(dx), abs(dy)) > 10_000:
            return np.zeros_like(picture)
        return np.asarray(ndimage.shift(picture, (dy, dx, 0), order=1, mode="constant"))

    def _flood(self, step: Node, picture: Floats) -> Floats:
        return np.broadcast_to(_flood_colour(step), picture.shape).copy()

    def _dropshadow(self, step: Node, picture: Floats) -> Floats:
        cover = self._moved(picture[:, :, 3:], to_number(step.get("dx", "2")),
                            to_number(step.get("dy", "2")))
        shadow = self._blurred(cover, step.get("stdDeviation", "2")) * _flood_colour(step)
        return picture + shadow * (1 - picture[:, :, 3:])

    def _colormatrix(
        self, step: Node, picture: Floats, other: Floats, linear: bool
    ) -> Floats:
        kind, text = step.get("type", "matrix"), step.get("values").replace(",", " ").split()
        values = [to_number(word) for word in text]
        colour, alpha = _straight(picture)
        if kind == "luminanceToAlpha":
            made = np.zeros_like(picture)
            made[:, :, 3] = colour @ LUMINANCE
            return made
        if kind == "matrix":
            table = np.array(values, float).reshape(4, 5) if len(values) == 20 else np.eye(4, 5)
        else:
            table = np.eye(4, 5)
            amount = values[0] if values else (1.0 if kind == "saturate" else 0.0)
            table[:3, :3] = (_saturation(amount) if kind == "saturate"
                             else _hue_turn(math.radians(amount)))
        straight = np.concatenate([colour, alpha, np.ones_like(alpha)], axis=2)
        return _premultiplied(np.clip(straight @ table.T, 0.0, 1.0))

    def _composite(
        self, step: Node, picture: Floats, other: Floats, linear: bool
    ) -> Floats:
        kind, a, b = step.get("operator", "over"), picture[:, :, 3:], other[:, :, 3:]
        if kind == "arithmetic":
            k1, k2, k3, k4 = (to_number(step.get(f"k{at}")) for at in range(1, 5))
            return k1 * picture * other + k2 * picture + k3 * other + k4
        factors = {
            "over": (np.ones_like(a), 1 - a), "in": (b, np.zeros_like(a)),
            "out": (1 - b, np.zeros_like(a)), "atop": (b, 1 - a), "xor": (1 - b, 1 - a),
            "lighter": (np.ones_like(a), np.ones_like(a)),
        }
        mine, theirs = factors.get(kind, factors["over"])
        return np.asarray(picture * mine + other * theirs)

    def _blend(self, step: Node, picture: Floats, other: Floats, linear: bool) -> Floats:
        mode = step.get("mode", "normal")
        a, b = picture[:, :, 3:], other[:, :, 3:]
        if mode not in SEPARABLE:
            return picture + other * (1 - a)
        front, back = _straight(picture)[0], _straight(other)[0]
        mixed = np.asarray(blend(mode, back.astype(np.float32), front.astype(np.float32)))
        colour = (1 - b) * picture[:, :, :3] + (1 - a) * other[:, :, :3] + a * b * mixed
        return np.concatenate([colour, a + b - a * b], axis=2)

    def _merge(self, step: Node, picture: Floats, other: Floats, linear: bool) -> Floats:
        made = np.zeros_like(picture)
        for child in step.children:
            if child.tag == "feMergeNode":
                front = self._input(child.get("in"))
                front = _to_linear(front) if linear else front
                made = front + made * (1 - front[:, :, 3:])
        return made

    def _morphology(self, step: Node, picture: Floats) -> Floats:
        words = step.get("radius", "0").replace(",", " ").split() or ["0"]
        across = round(to_number(words[0]) * self.units[0])
        down = round(to_number(words[-1]) * self.units[1])
        if across < 0 or down < 0 or (across == 0 and down == 0) or max(across, down) > 400:
            return np.zeros_like(picture)
        work = (ndimage.grey_dilation if step.get("operator") == "dilate"
                else ndimage.grey_erosion)
        return np.asarray(work(picture, size=(2 * down + 1, 2 * across + 1, 1), mode="constant"))

    def _componenttransfer(
        self, step: Node, picture: Floats, other: Floats, linear: bool
    ) -> Floats:
        colour, alpha = _straight(picture)
        straight = np.concatenate([colour, alpha], axis=2)
        for child in step.children:
            at = {"feFuncR": 0, "feFuncG": 1, "feFuncB": 2, "feFuncA": 3}.get(child.tag)
            if at is not None:
                straight[:, :, at] = _transferred(child, straight[:, :, at])
        return _premultiplied(np.clip(straight, 0.0, 1.0))


def _transferred(function: Node, channel: Floats) -> Floats:
    kind = function.get("type", "identity")
    table = [to_number(word) for word in function.get("tableValues").replace(",", " ").split()]
    if kind == "linear":
        return channel * to_number(function.get("slope", "1"), 1.0) + to_number(
            function.get("intercept"))
    if kind == "gamma":
        return np.asarray(to_number(function.get("amplitude", "1"), 1.0) * np.power(
            channel, np.clip(to_number(function.get("exponent", "1"), 1.0), 0.0, 100.0))
            + to_number(function.get("offset")))
    if kind == "table" and table:
        return np.interp(channel, np.linspace(0, 1, len(table)), table) if len(
            table) > 1 else np.full_like(channel, table[0])
    if kind == "discrete" and table:
        return np.asarray(np.array(table)[
            np.minimum((channel * len(table)).astype(int), len(table) - 1)])
    return channel


def _flood_colour(step: Node) -> Floats:
    alpha = share(step.get("flood-opacity", "1"))
    text = solid(step.get("flood-color", "black"), alpha, step.inherited("color", "#000000"))
    text = text or "#00000000"
    levels = [int(text[at : at + 2], 16) / 255 for at in range(1, len(text), 2)]
    alpha = levels[3] if len(levels) == 4 else 1.0
    return np.array([level * alpha for level in levels[:3]] + [alpha])


def _straight(picture: Floats) -> tuple[Floats, Floats]:
    alpha = picture[:, :, 3:]
    return np.clip(picture[:, :, :3] / np.maximum(alpha, 1e-6), 0.0, 1.0), alpha


def _premultiplied(straight: Floats) -> Floats:
    return np.concatenate([straight[:, :, :3] * straight[:, :, 3:], straight[:, :, 3:]], axis=2)


def _to_linear(picture: Floats) -> Floats:
    colour, alpha = _straight(picture)
    low = colour / 12.92
    high = ((colour + 0.055) / 1.055) ** 2.4
    return _premultiplied(np.concatenate([np.where(colour <= 0.04045, low, high), alpha], axis=2))


def _from_linear(picture: Floats) -> Floats:
    colour, alpha = _straight(picture)
    low = colour * 12.92
    high = 1.055 * np.power(colour, 1 / 2.4) - 0.055
    return _premultiplied(np.concatenate([np.where(colour <= 0.0031308, low, high), alpha], axis=2))


def _saturation(amount: float) -> Floats:
    """The saturate matrix of Filter Effects 1."""
    grey = np.array([0.213, 0.715, 0.072])
    return np.tile(grey, (3, 1)) * (1 - amount) + np.eye(3) * amount


def _hue_turn(angle: float) -> Floats:
    """The hueRotate matrix of Filter Effects 1."""
    base = np.tile([0.213, 0.715, 0.072], (3, 1))
    cos = np.array([[0.787, -0.715, -0.072], [-0.213, 0.285, -0.072], [-0.213, -0.715, 0.928]])
    sin = np.array([[-0.213, -0.715, 0.928], [0.143, 0.140, -0.283], [-0.787, 0.715, 0.072]])
    return np.asarray(base + math.cos(angle) * cos + math.sin(angle) * sin)
