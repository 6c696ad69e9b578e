"""Outlines in CSS: a border radius where it is a rounded box, else a clipping polygon."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from mektel.core.kit import Outlined
from mektel.core.look.look import mapped
from mektel.core.look.primitives import turning
from mektel.core.shape import AnyOutline, from_points, outline_for, polygons
from mektel.targets.web.css_values import Declarations, number, percent, px

ROUND = ("box", "capsule", "ellipse")
Size = tuple[float, float]
Four = tuple[float, float, float, float]


def is_round(form: Any) -> bool:
    return form.form in ROUND and not form.joins


def radius(form: Outlined, size: Size, grow: float) -> str:
    """``border-radius`` of a form in a box of ``size`` px, grown as our own outlines grow."""
    if form.form == "capsule":
        return "9999px"
    if form.form == "ellipse":
        return "50%"
    outline = outline_for("box", form.corners, *size, form.vertical_radii).grown(grow)
    across, down = ([px(r) for r in radii] for radii in (outline.rx, outline.ry))
    text = across[0] if len(set(across)) == 1 else " ".join(across)
    if across != down:
        text += " / " + (down[0] if len(set(down)) == 1 else " ".join(down))
    return text


def place(sides: Declarations | None, grow: float, corners: str) -> Declarations:
    """Where a round outline's element lies in the control: over all of it, grown by so many px, or
    in a box of its own by its ``sides``.
    """
    if sides is None:
        return {"border-radius": corners} | ({"inset": px(-grow)} if grow else {})
    return {"inset": "auto", **sides, "border-radius": corners}


def clip(
    outline: AnyOutline, size: Size, offset: tuple[float, float], hole: AnyOutline | None = None,
    spare: bool = False,
) -> Declarations:
    """An element over an outline's bounds, as shares of the control's box, clipped to it and
    without what ``hole`` holds.

    Browsers move the edges of an element, but not of a clip, to whole pixels: with ``spare`` the
    element is larger, so that its own edges never show.
    """
    x, y = outline.x - offset[0], outline.y - offset[1]
    width, height = outline.width, outline.height
    if spare:
        left, top = math.floor(x) - 1, math.floor(y) - 1
        right, bottom = math.ceil(x + width) + 1, math.ceil(y + height) + 1
        x, y, width, height = left, top, right - left, bottom - top
    return {
        "inset": "auto", "left": percent(x / size[0]), "top": percent(y / size[1]),
        "width": percent(width / size[0]), "height": percent(height / size[1]),
        "clip-path": polygon(outline, hole, (x + offset[0], y + offset[1], width, height)),
    }


def turned_outline(outline: AnyOutline, values: Any, pivot: tuple[float, float]) -> AnyOutline:
    """An outline turned and scaled about a spot as a layer's values say."""
    matrix = turning(values, pivot)
    return from_points([np.array([mapped(matrix, x, y) for x, y in ring])
                        for ring in polygons(outline)])


def polygon(
    outline: AnyOutline, hole: AnyOutline | None = None, within: Four | None = None,
    around: float = 0.0,
) -> str:
    """``polygon()`` in shares of the outline's own bounds, or of a box (x, y, width, height, px);
    with ``around`` all that lies up to so many px round that box, without the outline.

    Several rings are joined by lines there and back, which under the even-odd rule count nothing.
    """
    rings = [[*ring, ring[0]] for ring in polygons(outline)]
    if hole is not None and hole.width > 0 and hole.height > 0:
        rings += [[*ring, ring[0]] for ring in polygons(hole)]
    left, top, wide, high = within or (outline.x, outline.y, outline.width, outline.height)
    width, height = max(wide, 1e-6), max(high, 1e-6)
    digits = 2 if max(width, height) < 400 else 3  # to some hundredths of a px
    written = [[f"{number(round((x - left) / width * 100, digits))}% "
                f"{number(round((y - top) / height * 100, digits))}%" for x, y in ring]
               for ring in rings]
    if around:
        near, far = px(-around), f"calc(100% + {px(around)})"
        written.insert(0, [f"{near} {near}", f"{far} {near}", f"{far} {far}", f"{near} {far}",
                           f"{near} {near}"])
    spots = [spot for ring in written for spot in ring]
    spots += [ring[0] for ring in reversed(written[:-1])]
    rule = "evenodd, " if len(written) > 1 else ""
    return f"polygon({rule}{', '.join(spots)})"
