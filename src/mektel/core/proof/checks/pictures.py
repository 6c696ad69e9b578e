"""Pictures whose art was cut off when they were exported."""

from __future__ import annotations

from collections.abc import Iterator

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import Control, Kit, Picture
from mektel.core.kit.assets import pixels_of
from mektel.core.pictures.cropping import cropped_sides
from mektel.core.pictures.encoding import straight_of
from mektel.core.proof.findings import check


@check("art-cropped")
def art_is_whole(kit: Kit, control: Control) -> Iterator[Finding]:
    for layer in control.layers:
        if not isinstance(layer, Picture):
            continue
        shown = {"rest": layer.picture} | {
            condition: parts[layer.id]["picture"] for condition, parts in control.states.items()
            if "picture" in parts.get(layer.id, {})}
        for state, name in shown.items():
            if not name or all(asset.id != name for asset in kit.assets):
                continue
            pixels = pixels_of(kit.asset(name).png)
            sides = cropped_sides(straight_of(pixels.rgba()), pixels.key)
            if sides:
                yield Finding(
                    "art-cropped", Place(control=control.id, part=layer.id, condition=state),
                    f"{layer.name}: the art of its picture seems to be cut off at the "
                    f"{' and '.join(sides)}.",
                    Mend("Export it with some clear pixels on that side, or ignore this if it is "
                         "meant."))
