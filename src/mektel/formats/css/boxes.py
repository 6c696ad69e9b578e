"""What CSS paints for one box: shadows, glass, backgrounds and border as layers, back to front."""

from __future__ import annotations

from typing import Any

import tinycss2

from mektel.formats.css.backgrounds import background_layers
from mektel.formats.css.border_images import border_image
from mektel.formats.css.borders import Border, border_layers, edge_of, inside, line_values
from mektel.formats.css.lengths import Scale, length, shadows
from mektel.formats.css.reader import Reader
from mektel.formats.css.tokens import CssError, Declared, components

Layers = dict[str, dict[str, Any]]
WIDEST_BLUR = 400.0


def box_layers(
    reader: Reader, scale: Scale, current: str, outline: dict[str, Any],
    size: tuple[float, float], border: Border,
) -> Layers:
    """The layers of a box of ``size`` px by their ids; ``outline`` has its radii."""
    layers = _filters(reader, scale, current)
    layers |= _shadows(reader, scale, current, None, outline)
    layers |= _glass(reader, scale)
    image = border_image(reader, scale, current, size, border)
    border.pictured = image is not None
    layers |= background_layers(reader, scale, current, outline, size, border)
    layers |= _shadows(reader, scale, current, border, outline)
    layers |= border_layers(border, outline, size) if image is None else image
    ring = edge_of(reader, scale, current, "outline")
    if ring.width > 0:
        gap = reader.take("outline-offset", lambda d: length(components(d.tokens)[0], scale), 0.0)
        layers["outer-line"] = line_values("Focus ring", ring, "outside", gap)
    return layers


def _shadows(
    reader: Reader, scale: Scale, current: str, border: Border | None, outline: dict[str, Any]
) -> Layers:
    """Outer shadows, or those within ``border``."""
    inset = border is not None
    listed = [shadow for shadow in reader.take(
        "box-shadow", lambda d: shadows(d, scale, current), []) if shadow.inset == inset]
    layers: Layers = {}
    for at, shadow in reversed(list(enumerate(listed, 1))):
        values: dict[str, Any] = {
            "kind": "inner-shadow" if inset else "shadow", "colour": shadow.colour,
            "name": f"{'Inner shadow' if inset else 'Shadow'}{f' {at}' if len(listed) > 1 else ''}",
            "offset": (shadow.x, shadow.y), "blur": min(WIDEST_BLUR, shadow.blur),
            "spread": shadow.spread,
        }
        if border is not None and border.any:
            # Inner shadows fall within the border.
            values["outline"] = inside(outline, border.widths)
        layers[f"{'inner' if inset else 'shadow'}-{at}"] = values
    return layers


def _glass(reader: Reader, scale: Scale) -> Layers:
    def read(declared: Declared) -> float:
        total = 0.0
        for token in components(declared.tokens):
            if token.type == "ident" and token.lower_value == "none":
                return 0.0
            if token.type != "function" or token.lower_name != "blur":
                raise CssError(tinycss2.serialize([token]))
            total = length(components(token.arguments)[0], scale)
        return total

    sigma = reader.take("backdrop-filter", read, 0.0)
    return {"glass": {
        "kind": "lens", "name": "Glass", "bend": 0.0, "blur": min(WIDEST_BLUR, 2 * sigma),
        "colour": "#FFFFFF00", "rim": 0.0, "fringe": 0.0,
    }} if sigma > 0 else {}


def _filters(reader: Reader, scale: Scale, current: str) -> Layers:
    def read(declared: Declared) -> list[dict[str, Any]]:
        layers = []
        for token in components(declared.tokens):
            if token.type == "ident" and token.lower_value == "none":
                continue
            if token.type != "function" or token.lower_name != "drop-shadow":
                continue  # what changes colours is worked into them
            shadow = shadows(Declared(token.arguments, declared.line), scale, current)[0]
            # Here the third length is the Gaussian's sigma itself (Filter Effects 1).
            layers.append({
                "kind": "shadow", "name": "Drop shadow", "colour": shadow.colour,
                "offset": (shadow.x, shadow.y), "blur": min(WIDEST_BLUR, 2 * shadow.blur),
                "spread": 0.0,
            })
        return layers

    return {f"drop-{at}": values for at, values in enumerate(reader.take("filter", read, []), 1)}
