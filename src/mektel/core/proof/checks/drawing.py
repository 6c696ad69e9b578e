"""Layers that cannot be drawn."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import OUTLINE, Control, Kit, parse_flags, shown_states
from mektel.core.kit.edit import remove_layer
from mektel.core.look import resolve
from mektel.core.proof.findings import check


@check("layer-left-out")
def layers_can_be_drawn(kit: Kit, control: Control) -> Iterator[Finding]:
    names = {layer.id: layer.name for layer in control.layers}
    for state in shown_states(control.behaviour):
        for left in resolve(kit, control, parse_flags(state)).refused:
            edit = None if left.layer == OUTLINE else partial(
                remove_layer, control_id=control.id, layer_id=left.layer)
            yield Finding(
                "layer-left-out", Place(control=control.id),
                f"{names.get(left.layer, 'Outline')} is left out: {left.why.rstrip('.')}.",
                Mend("Change that layer's values, or remove it.", edit))
