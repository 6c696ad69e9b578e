"""Layers and pictures on their way between controls and kits."""

from __future__ import annotations

import base64
import json
from typing import Any

from pydantic import TypeAdapter, ValidationError

from mektel.core.errors import DocumentError
from mektel.core.kit.assets import AssetError, pixels_from_bytes
from mektel.core.kit.document import Asset, Kit, Swatch, is_colour
from mektel.core.kit.edit import identifier, insert_layer
from mektel.core.kit.layers import Layer

FORMAT = "mektel-layer"
_layer: TypeAdapter[Any] = TypeAdapter(Layer)


def layer_to_text(kit: Kit, control_id: str, layer_id: str) -> str:
    """A layer as JSON, with what each state changes in it and the palette colours it names."""
    control = kit.control(control_id)
    layer = control.layer(layer_id)
    whole = control.model_dump(mode="json")["states"]
    states = {state: changes[layer_id] for state, changes in whole.items() if layer_id in changes}
    data = layer.model_dump(mode="json")
    names = set(_names([data, states]))
    return json.dumps({
        "format": FORMAT, "layer": data, "states": states,
        "palette": [s.model_dump() for s in kit.palette if s.name in names],
        "assets": [a.model_dump() for a in kit.assets
                   if a.id in {data.get("asset"), *(v.get("asset") for v in states.values())}],
    }, ensure_ascii=False)


def _names(data: Any) -> list[str]:
    if isinstance(data, dict):
        own = [v for k, v in data.items() if is_colour(k) and isinstance(v, str)]
        return own + [name for value in data.values() for name in _names(value)]
    if isinstance(data, list):
        return [name for value in data for name in _names(value)]
    return []


def paste_layer(kit: Kit, control_id: str, text: str, above: str | None) -> Kit:
    """Puts a copied layer in front of ``above``, or of all. Raises :class:`DocumentError`."""
    try:
        data = json.loads(text)
        if not isinstance(data, dict) or data.get("format") != FORMAT:
            raise ValueError
        layer = _layer.validate_python(data["layer"])
        palette = tuple(Swatch.model_validate(one) for one in data["palette"])
        assets = tuple(Asset.model_validate(one) for one in data["assets"])
    except (ValueError, KeyError, TypeError, ValidationError):
        raise DocumentError("", "what was copied is no layer; copy one first") from None
    have = {swatch.name for swatch in kit.palette}
    pictures = {asset.id for asset in kit.assets}
    kit = kit.model_copy(update={
        "palette": (*kit.palette, *(s for s in palette if s.name not in have)),
        "assets": (*kit.assets, *(a for a in assets if a.id not in pictures)),
    })
    return insert_layer(kit, control_id, layer, data["states"], above)


def add_asset(kit: Kit, name: str, content: bytes) -> tuple[Kit, str]:
    """Takes a PNG into the kit; the same picture is not taken twice. Its id comes with it."""
    try:
        pixels_from_bytes(content)
    except AssetError as error:
        raise DocumentError("", str(error)) from None
    png = base64.b64encode(content).decode()
    for asset in kit.assets:
        if asset.png == png:
            return kit, asset.id
    new = Asset(id=identifier(name, [a.id for a in kit.assets], "picture"),
                name=name[:80].strip() or "Picture", png=png)
    return kit.model_copy(update={"assets": (*kit.assets, new)}), new.id
