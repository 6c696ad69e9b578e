"""Formulas without a value, and looks that cannot be embedded."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import REST, Control, EmbeddedLook, Kit
from mektel.core.kit.edit import remove_layer
from mektel.core.kit.parameter_edits import set_formula
from mektel.core.look import problems_of
from mektel.core.proof.findings import check


@check("formula-without-value")
def formulas_have_values(kit: Kit, control: Control) -> Iterator[Finding]:
    embedding = {layer.id for layer in control.layers if isinstance(layer, EmbeddedLook)}
    for problem in problems_of(kit, control):
        place = Place(control=control.id, part=problem.part, path=problem.path,
                      condition="" if problem.condition == REST else problem.condition)
        if problem.part in embedding and problem.path == "control":
            yield Finding("look-not-embedded", place, problem.text, Mend(
                "Choose another look in that layer, or remove it.",
                partial(remove_layer, control_id=control.id, layer_id=problem.part)))
        else:
            yield Finding("formula-without-value", place, problem.text, Mend(
                "Its last good value stays; change that formula or what it names.",
                partial(set_formula, control_id=control.id, state=problem.condition,
                        part_id=problem.part, path=problem.path, text="")))
