"""Which dials an open card shows, by the kind of layer: pages of columns."""

from __future__ import annotations

from typing import Any

from mektel.core.kit.layers import Painted

Column = tuple[str, list[str]]
Page = tuple[str, list[Column]]

FORM_VALUES = {
    "box": ["corners", "vertical_radii"], "superellipse": ["power"],
    "polygon": ["points", "rounding"],
    "star": ["points", "inner_radius", "rounding"], "cut": ["corners"], "notch": ["corners"],
    "path": ["path"],
}
EVERY_FORM_VALUE = [
    "corners", "vertical_radii", "power", "points", "inner_radius", "rounding", "path"]
PAINT = ["style", "colour", "=gradient", "direction"]
GRADIENT = ("Gradient", ["=line", "ends", "centre", "reach", "spread", "mixing"])
LAYER = ("Layer", ["visible", "opacity", "blend"])
LIGHT = ["visible", "opacity", "blend"]
OUTLINE: Page = ("Outline", [
    ("Outline", ["=own", "outline.form", *(f"outline.{name}" for name in EVERY_FORM_VALUE)]),
    ("Its box", ["outline.x", "outline.y", "outline.width", "outline.height"]),
])
PLACE: Page = ("Place", [
    ("Place", ["move", "rotate", "scale"]), ("Pivot", ["pivot"]),
])
FIRST: dict[str, list[Page]] = {
    "outline": [("Outline", [
        ("Outline", ["form", *EVERY_FORM_VALUE]),
        ("Size", ["=size", "padding", "offset", "fit", "opacity"]),
    ]), ("Joined", [("Joined", ["=joins"])]), ("Content", [
        ("Content", [*(f"=content-{name}" for name in ("flow", "gap", "place")),
                     "content_offset"]),
        ("Alignment", ["=content-align", "=content-sizing", "=content-min", "=content-max"]),
    ])],
    "shadow": [("Shadow", [
        ("Shadow", ["colour", "blur", "spread"]), ("Where", ["offset"]), LAYER])],
    "inner-shadow": [("Shadow", [
        ("Inner shadow", ["colour", "blur", "spread"]), ("Where", ["offset"]), LAYER])],
    "glow": [("Glow", [("Glow", ["colour", "blur", "spread"]), LAYER])],
    "inner-glow": [("Glow", [("Inner glow", ["colour", "blur", "spread"]), LAYER])],
    "fill": [("Fill", [("Fill", PAINT), GRADIENT, ("Layer", [*LIGHT, "expand", "origin"])])],
    "line": [
        ("Line", [
            ("Line", PAINT), ("Where", ["width", "place", "gap", "dash", "dash_gap"]), LAYER]),
        ("Gradient", [GRADIENT]),
    ],
    "bevel": [("Bevel", [
        ("Bevel", ["light", "depth", "softness"]), ("Colours", ["light_colour", "shade_colour"]),
        LAYER])],
    "gloss": [("Gloss", [
        ("Gloss", ["colour", "fade"]), ("Band", ["height", "bulge", "gap"]), LAYER])],
    "lens": [("Lens", [
        ("Glass", ["bend", "edge_zone", "blur", "colour"]),
        ("Rim", ["rim", "rim_colour", "light", "fringe"]), LAYER])],
    "picture": [("Picture", [
        ("Picture", ["picture", "fit", "slices", "density"]),
        ("Colour", ["tint", "colour", "saturation", "brightness"]), LAYER]),
        ("Edge", [("Edge", ["edge", "edge_colour"])])],
    "symbol": [
        ("Symbol", [
            ("Symbol", ["symbol", "size", "repeat", "gap", "position"]), ("Paint", PAINT), LAYER]),
        ("Gradient", [GRADIENT])],
    "icon": [
        ("Icon", [("Icon", ["icon", "size", "thickness", "position"]), ("Paint", PAINT), LAYER]),
        ("Gradient", [GRADIENT])],
    "progress": [("Progress", [
        ("Progress", ["amount", "colour", "track_colour"]), LAYER])],
    "look": [("Look", [
        ("Look", ["control", "variation", "text", "shows"]),
        ("Where", ["position", "width", "height"]), LAYER,
    ]), ("Arguments", [("Arguments", ["=arguments"])])],
    "light": [("Light", [
        ("Light", ["lit", "colour", "glow"]), ("Where", ["size", "position"]), LAYER])],
    "label": [
        ("Text", [
            ("Text", ["=text", "family", "size", "weight", "case"]), ("Paint", PAINT), LAYER]),
        ("Content", [("Content", ["=says"]), ("Box", [
            "=box", "box.x", "box.y", "box.width", "box.height"])]),
        ("Typography", [
            ("Lines", ["align", "flow", "line_height", "spacing"]),
            ("Characters", ["relief", "edge", "edge_colour"]),
            ("Shadow", ["shadow_colour", "shadow_offset", "shadow_blur"])]),
        ("Gradient", [GRADIENT])],
}
WITHOUT_TURNING = {"lens"}


def pages_of(part: Any, kind: str) -> list[Page]:
    """The pages of a part, each with the dials that apply to it as it is now."""
    pages = list(FIRST[kind])
    if kind != "outline":
        if "outline" in type(part).model_fields:
            pages.append(OUTLINE)
        pages.append(PLACE if kind not in WITHOUT_TURNING else ("Place", [("Place", ["move"])]))
    shown_pages: list[Page] = []
    for title, columns in pages:
        kept = [(head, [n for n in names if applies(n, part)]) for head, names in columns]
        kept = [(head, names) for head, names in kept if names]
        if kept:
            shown_pages.append((title, kept))
    return shown_pages


def applies(name: str, part: Any) -> bool:
    """Dials that do not apply are not there: no direction without a gradient."""
    if "." in name:
        owner, inner = name.split(".", 1)
        nested = getattr(part, owner)
        return nested is not None and applies(inner, nested)
    if name in EVERY_FORM_VALUE:
        return name in FORM_VALUES.get(part.form, [])
    if isinstance(part, Painted):
        style = part.style
        where = {
            "colour": style == "solid", "=gradient": style != "solid",
            "direction": style == "conic" or (style == "linear" and part.ends is None),
            "=line": style == "linear", "ends": style == "linear" and part.ends is not None,
            "centre": style in ("radial", "conic"), "reach": style == "radial",
            "spread": style != "solid", "mixing": style != "solid",
        }
        if name in where:
            return where[name]
    if name == "dash_gap":
        return bool(part.dash > 0)
    if name == "line_height":
        return bool(part.flow == "wrap")
    if name == "slices":
        return bool(part.fit == "slices")
    if name == "density":
        return part.fit in ("slices", "tile")
    return True
