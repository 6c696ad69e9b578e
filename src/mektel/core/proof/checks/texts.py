"""Variations whose arguments do not fit, and letters that a font does not have."""

from __future__ import annotations

from collections.abc import Iterator

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import ArgumentError, Control, Kit, Label
from mektel.core.look import settle
from mektel.core.look.label_lines import own_text
from mektel.core.proof.findings import check
from mektel.core.text import lacking


@check("letters-not-in-font")
def texts_can_be_set(kit: Kit, control: Control) -> Iterator[Finding]:
    place = Place(control=control.id)
    texts = {"": None} | {variation.name: variation.text for variation in control.variations}
    for name, text in texts.items():
        where = f"Variation “{name}”: " if name else ""
        arguments = next(
            (variation.arguments for variation in control.variations if variation.name == name), {}
        )
        try:
            plain = settle(kit, control, None, arguments, text=text).control
        except ArgumentError as error:
            yield Finding(
                "argument-does-not-fit",
                place,
                f"{where}{error}",
                Mend("Change that argument in Reuse."),
            )
            continue
        for label in plain.layers:
            if not isinstance(label, Label):
                continue
            gone = lacking(
                own_text(label, plain.text if text is None else text), label.family, label.weight
            )
            if gone:
                yield Finding(
                    "letters-not-in-font",
                    place,
                    f"{where}{label.name}: {label.family} has no “{gone}”.",
                    Mend("Choose a font that has these characters, or change the text."),
                )
