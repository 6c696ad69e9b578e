"""Layers and pictures on their way between controls and kits."""

from __future__ import annotations

import base64
import json
from collections.abc import Sequence
from typing import Any, Literal

from pydantic import Field

from mektel.core.errors import DocumentError, MektelError, reading
from mektel.core.kit.assets import AssetError, pixels_from_bytes
from mektel.core.kit.checking import checked
from mektel.core.kit.conditions import Condition
from mektel.core.kit.control import Control, is_colour
from mektel.core.kit.document import Asset, Kit, Swatch
from mektel.core.kit.edit import identifier, insert_layer, renamed_colours
from mektel.core.kit.layers import Layer
from mektel.core.kit.value_types import Frozen, Text

FORMAT = "mektel-layer"
# Of all pictures of a kit together, as they are written (base64).
MOST_PICTURE_BYTES = 96 * 2**20


class PasteError(MektelError):
    """A layer on the clipboard that cannot be taken; says why."""


def layer_to_text(kit: Kit, control_id: str, layer_id: str) -> str:
    """A layer as JSON, with what each state changes in it, its formulas, and the palette colours
    and pictures that it names.
    """
    control = kit.control(control_id)
    layer = control.layer(layer_id)
    whole = control.model_dump(mode="json")["states"]
    states = {state: changes[layer_id] for state, changes in whole.items() if layer_id in changes}
    formulas = {condition: parts[layer_id] for condition, parts in control.formulas.items()
                if layer_id in parts}
    data = layer.model_dump(mode="json")
    names = set(_names([data, states]))
    return json.dumps({
        "format": FORMAT, "layer": data, "states": states, "formulas": formulas,
        "palette": [s.model_dump() for s in kit.palette if s.name in names],
        "assets": [a.model_dump() for a in kit.assets
                   if a.id in {data.get("picture"), *(v.get("picture") for v in states.values())}],
    }, ensure_ascii=False)


def _names(data: Any) -> list[str]:
    if isinstance(data, dict):
        own = [v for k, v in data.items() if is_colour(k) and isinstance(v, str)]
        own += [v for v in data.get("arguments", {}).values() if isinstance(v, str)]
        return own + [name for value in data.values() for name in _names(value)]
    if isinstance(data, list):
        return [name for value in data for name in _names(value)]
    return []


class _Copied(Frozen):
    """A layer on the clipboard, which may come from anywhere."""

    format: Literal["mektel-layer"]
    layer: Layer
    states: dict[Condition, dict[str, Any]] = Field(default_factory=dict)
    formulas: dict[str, dict[str, Text]] = Field(default_factory=dict)
    palette: tuple[Swatch, ...] = ()
    assets: tuple[Asset, ...] = ()


def paste_layer(kit: Kit, control_id: str, text: str, above: str | None) -> Kit:
    """Puts a copied layer in front of ``above``, or of all; it looks as where it came from.

    A palette colour or picture whose name means something else here comes as the colour itself,
    or under another name. Raises :class:`DocumentError`.
    """
    with reading("what was copied", PasteError):
        try:
            copied = _Copied.model_validate(json.loads(text))
        except (ValueError, RecursionError):
            raise PasteError("what was copied is not a layer; copy one first") from None
        before, have = kit, {swatch.name: swatch.colour for swatch in kit.palette}
        other = {s.name: s.colour for s in copied.palette if have.get(s.name, s.colour) != s.colour}
        kit = kit.model_copy(update={
            "palette": (*kit.palette, *(s for s in copied.palette if s.name not in have))})
        pictures: dict[str, str] = {}
        for asset in copied.assets:
            kit, pictures[asset.id] = _with_asset(kit, asset)
        layer, states = (_elsewhere(renamed_colours(values, other), pictures) for values in (
            copied.layer.model_dump(), copied.states))
        made = insert_layer(
            kit, control_id, type(copied.layer).model_validate(layer), states, above,
            {condition: dict(paths) for condition, paths in copied.formulas.items()})
        return checked(made, before)


def _elsewhere(values: dict[str, Any], pictures: dict[str, str]) -> dict[str, Any]:
    """A layer's values, or those of its states, with pictures under the names they have here."""
    return {
        name: pictures.get(value, value) if name == "picture" and isinstance(value, str)
        else _elsewhere(value, pictures) if isinstance(value, dict) else value
        for name, value in values.items()}


def add_asset(kit: Kit, name: str, content: bytes) -> tuple[Kit, str]:
    """Takes a PNG into the kit; the same picture is not taken twice. Its id comes with it."""
    try:
        pixels_from_bytes(content).rgba()
    except AssetError as error:
        raise DocumentError("", str(error)) from None
    new = Asset(id=identifier(name, [], "picture"), name=name[:80].strip() or "Picture",
                png=base64.b64encode(content).decode())
    return _with_asset(kit, new)


def with_pictures(
    kit: Kit, control: Control, pictures: Sequence[Asset]
) -> tuple[Kit, Control]:
    """A kit with a control's pictures, and the control with the names that they have in the kit.

    Raises :class:`DocumentError` where they are too large together.
    """
    ids: dict[str, str] = {}
    for picture in pictures:
        kit, ids[picture.id] = _with_asset(kit, picture)
    if all(old == new for old, new in ids.items()):
        return kit, control
    return kit, Control.model_validate(control.model_dump() | {
        "layers": [_elsewhere(layer.model_dump(), ids) for layer in control.layers],
        "states": {condition: {part: _elsewhere(values, ids) for part, values in parts.items()}
                   for condition, parts in control.states.items()}})


def _with_asset(kit: Kit, asset: Asset) -> tuple[Kit, str]:
    for other in kit.assets:
        if (other.png, other.coarser) == (asset.png, asset.coarser):
            return kit, other.id
    whole = asset.length + sum(other.length for other in kit.assets)
    if whole > MOST_PICTURE_BYTES:
        raise DocumentError("", (
            f"the pictures of this kit would come to {whole // 2**20} MB; "
            f"{MOST_PICTURE_BYTES // 2**20} MB is the most. Take in smaller ones, or remove some"))
    new = asset.model_copy(update={
        "id": identifier(asset.id, [other.id for other in kit.assets], "picture")})
    return kit.model_copy(update={"assets": (*kit.assets, new)}), new.id
