"""Pictures of made-up buttons whose layers are known, to be read back."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace

import numpy as np
from PIL import Image

from mektel.core.fit import read_picture
from mektel.core.fit.as_control import control_of_reading, picture_of
from mektel.core.kit import Control, Kit
from mektel.core.look import Margins, resolve
from mektel.core.look.look import moved
from mektel.core.paint import render


@dataclass(frozen=True)
class Given:
    """A picture of 8 bits with the control in it, where it stands, and how it was made."""

    pixels: np.ndarray
    control: Control
    place: tuple[float, float]
    density: int
    label: bool
    about: str


@dataclass(frozen=True)
class Measured:
    """Mean residual of 255; the outline's greatest error in px; what is within its bar; by how much
    the shadow's blur is off, as a share, if there is a shadow.
    """

    residual: float
    outline: float
    radius_good: bool
    colours_good: bool
    blur: float | None = None


def _tone(dice: np.random.Generator, light: tuple[float, float] = (0.1, 0.95)) -> np.ndarray:
    grey = dice.uniform(*light)
    return np.clip(grey + dice.uniform(-0.28, 0.28, 3), 0, 1)


def _hex(tone: np.ndarray, alpha: float = 1.0) -> str:
    text = "#" + "".join(f"{round(float(part) * 255):02X}" for part in tone)
    return text if alpha >= 1 else f"{text}{round(alpha * 255):02X}"


def made_up(seed: int, radial: bool = False, unlike: bool = False) -> Given:
    """A button as people draw them: every part there by chance, values within what is usual; its
    face ``radial`` and its corners ``unlike`` if asked for.
    """
    dice = np.random.default_rng(seed)
    density = int(dice.choice((1, 2)))
    width, height = float(round(dice.uniform(70, 220))), float(round(dice.uniform(26, 64)))
    radius = float(dice.choice((0, 4, 8, 12, height / 2, round(dice.uniform(2, height / 2)))))
    corners = (radius,) * 4
    if unlike:
        # As those of tabs, of segments at an end, and of speech bubbles.
        radius = radius or 8.0
        shares = ((1, 1, 0, 0), (1, 0, 0, 1), (0, 1, 1, 0), (0, 0, 1, 1), (1, 1, 1, 0),
                  (1, 0.3, 1, 0.3))[seed % 6]
        corners = tuple(round(radius * share, 1) for share in shares)  # type: ignore[assignment]
    backdrop = _tone(dice)
    face = _tone(dice)
    while np.abs(face - backdrop).max() < 0.12:
        face = _tone(dice)
    layers: list[dict] = []
    about = [f"{density}x"]
    if dice.random() < 0.6:
        about.append("shadow")
        layers.append({
            "kind": "shadow", "id": "shadow", "name": "Shadow",
            "colour": _hex(np.zeros(3), dice.uniform(0.15, 0.5)),
            "offset": (0.0, float(round(dice.uniform(0, 8)))),
            "blur": float(round(dice.uniform(2, 24))), "spread": float(dice.choice((0, 0, -2, 1)))})
    stops = int(dice.choice((1, 2, 2, 3)))
    tones = [face] + [np.clip(face + dice.uniform(-0.3, 0.3), 0, 1) for _ in range(stops - 1)]
    about.append(f"{stops} stops")
    fill: dict = {"kind": "fill", "id": "face", "name": "Face"}
    if stops == 1:
        fill |= {"style": "solid", "colour": _hex(face)}
    else:
        fill |= {"style": "linear", "direction": float(dice.choice((180, 180, 180, 90, 135, 160))),
                 "stops": [{"position": at / (stops - 1), "colour": _hex(tone)}
                           for at, tone in enumerate(tones)]}
    if radial and stops > 1:
        own = np.random.default_rng(seed)
        about.append("radial")
        reach = own.uniform(0.5, 0.9)
        fill |= {"style": "radial", "centre": (own.uniform(0.3, 0.7), own.uniform(0.0, 0.7)),
                 "reach": (reach, reach if own.random() < 0.5 else reach * width / height)}
    layers.append(fill)
    if dice.random() < 0.4:
        about.append("light")
        layers.append({
            "kind": "inner-shadow", "id": "light", "name": "Light", "spread": 0.0,
            "colour": _hex(np.ones(3), dice.uniform(0.2, 0.6)),
            "offset": (0.0, float(dice.choice((1, 2)))), "blur": float(dice.choice((0, 0, 2, 4)))})
    if dice.random() < 0.5:
        about.append("line")
        tone = np.clip(face * dice.uniform(0.3, 0.7), 0, 1)
        layers.append({"kind": "line", "id": "line", "name": "Line", "place": "inside",
                       "width": float(dice.choice((1, 1, 2, 3))), "colour": _hex(tone)})
    label = bool(dice.random() < 0.5)
    if label:
        about.append("label")
        ink = np.ones(3) if face.mean() < 0.55 else np.full(3, 0.1)
        layers.append({"kind": "label", "id": "label", "name": "Label", "colour": _hex(ink),
                       "size": float(round(min(24, height * dice.uniform(0.3, 0.5)))),
                       "weight": int(dice.choice((400, 600, 700)))})
    control = Control.model_validate({
        "id": "b", "name": "B", "text": str(dice.choice(("Ferry", "Pay", "Cast off", "Ahead"))),
        "size": (width, height), "outline": {"form": "box", "corners": corners},
        "layers": layers})
    room = 30
    x, y = room + dice.uniform(0, 1), room + dice.uniform(0, 1)
    if dice.random() < 0.7:
        x, y = float(round(x)), float(round(y))
    across, down = round((width + 2 * room + 1) * density), round((height + 2 * room + 1) * density)
    other = np.clip(backdrop + dice.uniform(-0.12, 0.12, 3), 0, 1)
    ground = np.broadcast_to(backdrop, (down, across, 3)).copy()
    if dice.random() < 0.4:
        about.append("gradient backdrop")
        share = np.linspace(0, 1, down)[:, None, None]
        ground = backdrop * (1 - share) + other * share + np.zeros((down, across, 1))
    look = resolve(Kit(controls=(control,)), control)
    placed = replace(look, width=across / density, height=down / density,
                     layers=tuple(moved(layer, x, y) for layer in look.layers))
    drawn = render(placed, density, Margins()).rgba[:down, :across] / 255.0
    pixels = np.clip(drawn[:, :, :3] + (1 - drawn[:, :, 3:]) * ground, 0, 1)
    image = Image.fromarray(np.round(pixels * 255).astype(np.uint8))
    if dice.random() < 0.4:
        about.append("JPEG")
        kept = io.BytesIO()
        image.save(kept, "JPEG", quality=85)
        image = Image.open(io.BytesIO(kept.getvalue()))
    return Given(np.asarray(image.convert("RGB")), control, (x, y), density, label,
                 ", ".join(about))


def measured(given: Given) -> Measured:
    """Reads a picture, draws the control that came out, and compares both."""
    reading = read_picture(given.pixels)
    control = control_of_reading(reading, "Read", given.density)
    height, width = given.pixels.shape[:2]
    ours = picture_of(reading, control, (width, height), given.density)
    off = np.abs(ours * 255 - given.pixels).mean(axis=2)
    if reading.label is not None:
        x, y, across, down = (round(value) for value in reading.label)
        off[max(0, y - 3):y + down + 3, max(0, x - 3):x + across + 3] = 0
    box, wanted = reading.geometry.scaled(1 / given.density), given.control.size
    x, y = given.place
    errors = (box.x - x, box.y - y, box.x + box.width - x - wanted[0],
              box.y + box.height - y - wanted[1])
    round_ = all(abs(got - min(radius, min(wanted) / 2)) <= max(1.0, 0.1 * radius)
                 for got, radius in zip(box.radii, given.control.outline.corners, strict=True))
    true, found = given.control.layer("face"), control.layer("face")
    pairs = zip((true.colour,) if true.style == "solid" else [s.colour for s in true.stops],
                (found.colour,) if found.style == "solid" else [s.colour for s in found.stops],
                strict=False)
    tones = [max(abs(int(a[n:n + 2], 16) - int(b[n:n + 2], 16)) for n in (1, 3, 5))
             for a, b in pairs]
    shadow, read = (next((layer for layer in each.layers if layer.kind == "shadow"), None)
                    for each in (given.control, control))
    blur = None if shadow is None else 1.0 if read is None else abs(read.blur / shadow.blur - 1)
    return Measured(float(off.mean()), float(np.abs(errors).max()),
                    bool(round_), max(tones) <= 4, blur)


def states_of(given: Given) -> tuple[Control, dict[str, np.ndarray]]:
    """A made-up button with states as people draw them, and a picture of each on a plain backdrop:
    lighter under the pointer; darker, 2 px lower and with half its shadow when pressed; grey and
    without a shadow when disabled.
    """
    def towards(colour: str, tone: int, by: float) -> str:
        levels = [int(colour[at : at + 2], 16) for at in (1, 3, 5)]
        return _hex(np.array([(level + (tone - level) * by) / 255 for level in levels]))

    face = given.control.layer("face")
    shadow = next((layer for layer in given.control.layers if layer.kind == "shadow"), None)

    def faced(tone: int, by: float) -> dict:
        return {"colour": towards(face.colour, tone, by)} if face.style == "solid" else {"stops": [
            {"position": stop.position, "colour": towards(stop.colour, tone, by)}
            for stop in face.stops]}

    states: dict = {
        "hover": {"face": faced(255, 0.15)},
        "pressed": {"face": faced(0, 0.15), "outline": {"offset": (0, 2)}},
        "disabled": {"face": faced(150, 0.6)}}
    if shadow is not None:
        states["pressed"]["shadow"] = {
            "blur": shadow.blur / 2, "offset": (0, shadow.offset[1] / 2)}
        states["disabled"]["shadow"] = {"visible": False}
    control = Control.model_validate(given.control.model_dump() | {"states": states})
    down, across = given.pixels.shape[:2]
    pictures = {}
    for state in ("rest", *states):
        look = resolve(Kit(controls=(control,)), control, () if state == "rest" else {state})
        placed = replace(look, width=across / given.density, height=down / given.density,
                         layers=tuple(moved(layer, *given.place) for layer in look.layers))
        drawn = render(placed, given.density, Margins()).rgba[:down, :across] / 255.0
        pixels = np.clip(drawn[:, :, :3] + (1 - drawn[:, :, 3:]) * 0.83, 0, 1)
        pictures[state] = np.round(pixels * 255).astype(np.uint8)
    return control, pictures
