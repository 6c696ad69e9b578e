"""What values and layer kinds are called in the interface."""

from __future__ import annotations

from typing import Any

from mektel.core.kit import BODY, Control, Stop

KIND_WORDS = {
    "shadow": "Shadow", "inner-shadow": "Inner shadow", "fill": "Fill", "line": "Line",
    "label": "Label",
}
KIND_HELP = {
    "shadow": "A shadow around the outline",
    "inner-shadow": "A shadow or a light inside the outline",
    "fill": "The outline filled with colour",
    "line": "A line along the outline", "label": "The text",
}
VALUE_WORDS = {
    "form": "Form", "radii": "Corners", "padding": "Padding", "offset": "Offset",
    "visible": "Layer", "opacity": "Opacity", "colour": "Colour", "blur": "Blur",
    "spread": "Spread", "style": "Style", "grow": "Grow", "angle": "Direction",
    "stops": "Gradient", "place": "Place", "width": "Width", "gap": "Gap", "family": "Font",
    "size": "Size", "weight": "Weight", "align": "Align", "shift": "Shift",
}
CHOICES: dict[str, list[tuple[Any, str]]] = {
    "form": [("box", "rounded box"), ("capsule", "capsule"), ("ellipse", "ellipse")],
    "style": [("solid", "one colour"), ("linear", "gradient")],
    "place": [("inside", "inside"), ("centre", "centred"), ("outside", "outside")],
    "align": [("start", "start"), ("centre", "centre"), ("end", "end")],
    "weight": [(400, "regular"), (500, "medium"), (600, "semibold"), (700, "bold"),
               (800, "extra bold")],
    "family": [("Hanken Grotesk", "Hanken Grotesk")],
}
PARTS = {
    "radii": ["top left", "top right", "bottom right", "bottom left"],
    "padding": ["sideways", "above and below"],
    "offset": ["right", "down"], "shift": ["right", "down"],
}


def part_name(control: Control, part_id: str) -> str:
    return "Outline" if part_id == BODY else control.layer(part_id).name


def step_name(control: Control, part_id: str, value: str) -> str:
    """How a step is called in undo: “face colour”."""
    return f"{part_name(control, part_id).lower()} {VALUE_WORDS[value].lower()}"


def count_words(count: int) -> str:
    return "same as rest" if not count else "1 change" if count == 1 else f"{count} changes"


def as_words(name: str, value: Any) -> str:
    """A value in a few words, for tips and lists."""
    if name in CHOICES:
        return dict(CHOICES[name])[value]
    if name == "visible":
        return "shown" if value else "hidden"
    if name == "opacity":
        return f"{value * 100:.0f} %"
    if name == "angle":
        return f"{value:g}°"
    if isinstance(value, float):
        return f"{value:g} px"
    if isinstance(value, tuple) and value and isinstance(value[0], Stop):
        return " → ".join(stop.colour for stop in value)
    if isinstance(value, tuple):
        return ", ".join(f"{one:g}" for one in value)
    return str(value)
