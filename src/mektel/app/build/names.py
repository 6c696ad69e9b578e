"""What values and layer kinds are called in the interface."""

from __future__ import annotations

from typing import Any, get_args

from mektel.core.kit import KINDS, OUTLINE, STATES, Control, ControlOutline, Stop, measure_of
from mektel.core.kit.layers import Painted
from mektel.core.kit.value_types import Blend, Frozen

KIND_TITLES = {
    "fill": "Fill", "line": "Line", "shadow": "Shadow", "inner-shadow": "Inner shadow",
    "glow": "Glow", "inner-glow": "Inner glow", "bevel": "Bevel", "gloss": "Gloss",
    "lens": "Lens", "label": "Label", "icon": "Icon", "symbol": "Symbol", "picture": "Picture",
    "light": "Status light", "progress": "Progress", "look": "Look of another",
}
KIND_HELP = {
    "fill": "The outline filled with a colour or a gradient",
    "line": "A line along the outline, plain or dashed",
    "shadow": "A shadow around the outline",
    "inner-shadow": "A shadow or a light inside the outline",
    "glow": "Light around the outline", "inner-glow": "Light from the edge inward",
    "bevel": "Edges lit from one side", "gloss": "A band of light over the upper part",
    "lens": "Glass that bends and blurs what lies behind", "label": "The text",
    "icon": "One of the outline icons that ship with Mektel",
    "symbol": "Play, stop, arrows and the like, once or several times",
    "picture": "A PNG picture, stretched, fitted, tiled or in nine slices",
    "light": "A small lamp with its own colour", "progress": "A bar filled by a share",
    "look": "Another control as content: a lamp, a count or a key in this one",
}
CHOICES: dict[str, list[tuple[Any, str]]] = {
    "form": [
        ("box", "rounded box"), ("capsule", "capsule"), ("ellipse", "ellipse"),
        ("superellipse", "superellipse"), ("polygon", "polygon"), ("star", "star"),
        ("cut", "cut corners"), ("notch", "notched corners"), ("path", "SVG path"),
    ],
    "operation": [("union", "added"), ("smooth", "blended in"), ("difference", "subtracted"),
            ("intersection", "intersected")],
    "outline.fit": [("fill", "fills its box"), ("keep", "keeps proportions")],
    "fit": [("stretch", "stretched"), ("fit", "fitted"), ("tile", "tiled"),
            ("slices", "nine slices")],
    "shows": [("same", "its state"), *((state, f"always {state}") for state in ("rest", *STATES))],
    "style": [("solid", "one colour"), ("linear", "linear"),
              ("radial", "radial"), ("conic", "conic")],
    "gradient.spread": [("pad", "extends"), ("repeat", "repeats"), ("mirror", "mirrors")],
    "mixing": [("srgb", "sRGB"), ("oklab", "OKLab")],
    "blend": [(mode, mode.replace("-", " ")) for mode in get_args(Blend)],
    "place": [("inside", "inside"), ("centre", "centred"), ("outside", "outside")],
    "align": [("start", "start"), ("centre", "centre"), ("end", "end")],
    "case": [("as-written", "as written"), ("capitals", "capitals")],
    "flow": [("one-line", "one line"), ("wrap", "wrapped"), ("fit", "shrink to fit")],
    "relief": [("flat", "flat"), ("raised", "raised"), ("sunken", "sunken")],
    "weight": [(400, "regular"), (500, "medium"), (600, "semibold"), (700, "bold"),
               (800, "extra bold")],
    "family": [("Hanken Grotesk", "Hanken Grotesk"), ("Rubik", "Rubik")],
}
MODELS: list[type[Frozen]] = [*KINDS.values(), ControlOutline]
SIDES = ["left", "top", "right", "bottom"]
PARTS = {
    "corners": ["top left", "top right", "bottom right", "bottom left"],
    "vertical_radii": ["top left", "top right", "bottom right", "bottom left"],
    "padding": ["sideways", "above and below"], "offset": ["right", "down"],
    "content_offset": ["right", "down"],
    "move": ["right", "down"], "shadow_offset": ["right", "down"], "scale": ["across", "down"],
    "pivot": ["across", "down"], "centre": ["across", "down"], "reach": ["across", "down"],
    "position": ["across", "down"], "slices": SIDES,
    "ends": ["from, across", "from, down", "to, across", "to, down"],
}
YES_NO = {"visible": ("● shown", "○ hidden"), "lit": ("● lit", "○ off")}


def choices_of(name: str, part: Any) -> list[tuple[Any, str]] | None:
    """What a value can be chosen from; the same name may mean different things."""
    if name == "fit" and isinstance(part, ControlOutline):
        return CHOICES["outline.fit"]
    if name == "spread":
        return CHOICES["gradient.spread"] if isinstance(part, Painted) else None
    return CHOICES.get(name)


def value_title(name: str) -> str:
    """A value's name in the window: the one that formulas have for it."""
    return name.replace("_", " ").capitalize()


def part_name(control: Control, part_id: str) -> str:
    return "Outline" if part_id == OUTLINE else control.layer(part_id).name


def step_name(control: Control, part_id: str, value: str) -> str:
    """How a step is called in undo: “face colour”."""
    return f"{part_name(control, part_id).lower()} {value_title(value).lower()}"


def count_text(count: int) -> str:
    return "same as rest" if not count else "1 change" if count == 1 else f"{count} changes"


def as_text(name: str, value: Any) -> str:
    """A value in a few words, for tips and lists."""
    for choices in (CHOICES.get(name), CHOICES.get(f"outline.{name}"),
                    CHOICES.get(f"gradient.{name}")):
        if choices and value in dict(choices):
            return dict(choices)[value]
    if name in YES_NO:
        return YES_NO[name][0 if value else 1][2:]
    if name == "outline":
        return "the control's" if value is None else f"its own {value.form}"
    if name == "box":
        return "the control, padded" if value is None else "a box of its own"
    if name == "text" and value is None:
        return "its own"
    if value is None or value in ("", ()):
        return "none"
    if isinstance(value, float):
        return number_text(name, value)
    if isinstance(value, tuple) and value and isinstance(value[0], Stop):
        return " → ".join(stop.colour for stop in value)
    if isinstance(value, tuple) and all(isinstance(number, float) for number in value):
        return ", ".join(f"{number:g}" for number in value)
    if isinstance(value, tuple):
        return f"{len(value)}"
    return str(value)


def number_text(name: str, value: float) -> str:
    measure = next(
        (measure_of(model, name) for model in MODELS if name in model.model_fields), None)
    unit = measure.unit if measure else ""
    shown = value * 100 if unit == "%" else value
    return f"{shown:.4g}{'' if unit == '°' else ' '}{unit}".strip()
