"""What is wrong within a kit: links that lead nowhere, formulas without a value, letters lost."""

from __future__ import annotations

from dataclasses import dataclass

from mektel.core.kit import (
    ArgumentError,
    Control,
    HeldLook,
    Kit,
    Label,
    parse_flags,
    shown_states,
)
from mektel.core.look import problems_of, resolve, settle
from mektel.core.look.faces import face_problem
from mektel.core.look.words import own_text
from mektel.core.text import lacking


@dataclass(frozen=True)
class Finding:
    """One thing that is wrong: of which control (empty for the kit), what, and what mends it."""

    control: str
    text: str
    mend: str

    def __str__(self) -> str:
        return f"{self.text} {self.mend}"


def findings(kit: Kit) -> list[Finding]:
    """Everything that is wrong in a kit, control by control."""
    found = [one for control in kit.controls for one in findings_of(kit, control)]
    told = face_problem(kit)
    if told:
        found.append(Finding("", told, "Choose another face in Reuse, or install that one."))
    return found


def findings_of(kit: Kit, control: Control) -> list[Finding]:
    """What is wrong with one control; what it shows meanwhile is its last good look."""
    found = []
    if control.base is not None and all(one.id != control.base for one in kit.controls):
        found.append(Finding(
            control.id, f"It derives from “{control.base}”, which is not in this kit.",
            "It keeps what it has; right-click it on the shelf to part it from its base."))
    held = {layer.id for layer in control.layers if isinstance(layer, HeldLook)}
    for problem in problems_of(kit, control):
        lost = problem.part in held and problem.path == "control"
        found.append(Finding(
            control.id, str(problem),
            "Choose another look in that layer, or remove it." if lost
            else "Its last good value stays; change that formula or what it names."))
    for state in shown_states(control.behaviour):
        for left in resolve(kit, control, parse_flags(state)).refused:
            name = next((layer.name for layer in control.layers if layer.id == left.layer),
                        "Outline")
            found.append(Finding(control.id, f"{name} is left out: {left.why.rstrip('.')}.",
                                 "Change that layer's values, or remove it."))
    texts = {"": None} | {one.name: one.text for one in control.variations}
    for name, text in texts.items():
        where = f"Variation “{name}”: " if name else ""
        arguments = next((one.arguments for one in control.variations if one.name == name), {})
        try:
            plain = settle(kit, control, None, arguments, text=text).control
        except ArgumentError as error:
            found.append(Finding(control.id, f"{where}{error}", "Change that argument in Reuse."))
            continue
        for label in plain.layers:
            if not isinstance(label, Label):
                continue
            words = own_text(label, plain.text if text is None else text)
            gone = lacking(words, label.family, label.weight)
            if gone:
                found.append(Finding(
                    control.id, f"{where}{label.name}: {label.family} has no “{gone}”.",
                    "Choose a font that has these letters, or other words."))
    return list(dict.fromkeys(found))
