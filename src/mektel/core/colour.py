"""Colour arithmetic: OKLCH steps, reading what a person types, WCAG contrast."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from mektel.core.errors import MektelError

LCH = tuple[float, float, float]


class ColourError(MektelError):
    """Text that is not a colour."""


def _color(*args: Any) -> Any:
    # Loading it takes a fifth of a second, which a start without colour work need not wait for.
    from coloraide import Color

    return Color(*args)


def _hex(colour: Any, clipped: bool = False) -> str:
    srgb = colour.convert("srgb")
    fitted = srgb.clip() if clipped else srgb.fit(method="oklch-chroma").clip()
    digits = [round(max(0.0, min(1.0, c)) * 255) for c in fitted[:-1]]
    alpha = round(max(0.0, min(1.0, colour.alpha())) * 255)
    text = "#" + "".join(f"{d:02X}" for d in digits)
    return text if alpha == 255 else f"{text}{alpha:02X}"


def colour_from_text(text: str, clipped: bool = False) -> str:
    """Any CSS Color 4 notation as #RRGGBB or #RRGGBBAA (a bare hex number is taken too).

    What sRGB cannot show is brought in by lowering chroma, or, ``clipped`` as browsers do it,
    channel by channel.

    >>> colour_from_text("rebeccapurple")
    '#663399'
    >>> colour_from_text("2f8c93")
    '#2F8C93'
    """
    typed = text.strip()
    if not typed.startswith("#") and len(typed) in (3, 4, 6, 8) and _is_hex(typed):
        typed = f"#{typed}"
    try:
        return _hex(_color(typed), clipped)
    except ValueError:
        raise ColourError(
            f"“{text}” is not a colour. Write #RRGGBB, a CSS name such as teal, "
            "or oklch(0.6 0.1 200)."
        ) from None


def mixed(first: str, second: str, share: float, other: float, space: str) -> str:
    """Two CSS colours mixed in a colour space, ``share`` of the first and ``other`` of the second.

    Shares that come to less than 1 leave the rest transparent. Raises :class:`ColourError`, also
    for a space that is not known. Source: CSS Color 5, 2 (``color-mix()``).

    >>> mixed("#FF0000", "#0000FF", 0.5, 0.5, "srgb")
    '#800080'
    """
    total = share + other
    if total <= 0:
        raise ColourError("a mix without colours")
    try:
        mix = _color(first).mix(_color(second), other / total, space=space, premultiplied=True)
    except ValueError:
        raise ColourError(f"“{space}” is not a colour space that is known") from None
    mix.set("alpha", mix.alpha(nans=False) * min(1.0, total))
    return _hex(mix, clipped=True)


# By what channels are multiplied for the numbers that CSS has for them.
NUMBERS = {"srgb": (255.0, 255.0, 255.0), "hsl": (1.0, 100.0, 100.0), "hwb": (1.0, 100.0, 100.0)}


def channels_of(text: str, space: str) -> tuple[float, ...]:
    """A CSS colour's three channels in a space, as the numbers that relative colours see, and its
    alpha (CSS Color 5, 4). Raises :class:`ColourError`.

    >>> channels_of("#FF0080", "srgb")[:2]
    (255.0, 0.0)
    """
    try:
        colour = _color(text).convert(space)
    except ValueError:
        raise ColourError(f"“{text}” is not a colour in a space that is known") from None
    by = NUMBERS.get(space, (1.0, 1.0, 1.0))
    return (*(value * factor for value, factor in zip(
        colour.coords(nans=False), by, strict=True)), colour.alpha(nans=False))


def _is_hex(text: str) -> bool:
    return all(letter in "0123456789abcdefABCDEF" for letter in text)


@lru_cache(maxsize=1024)
def to_oklch(colour: str) -> tuple[LCH, float]:
    """(lightness 0–1, chroma, hue in degrees) and alpha of a hex colour."""
    at = _color(colour).convert("oklch")
    light, chroma, hue = (float(value) for value in at.coords(nans=False))
    return (light, chroma, hue % 360), float(at.alpha())


def from_oklch(lch: LCH, alpha: float = 1.0) -> str:
    """A hex colour from OKLCH; what sRGB cannot show is brought in by lowering chroma."""
    light, chroma, hue = lch
    return _hex(_color("oklch", [max(0.0, min(1.0, light)), max(0.0, chroma), hue], alpha))


@lru_cache(maxsize=1024)
def lighter(colour: str, by: float) -> str:
    """The colour with its OKLCH lightness moved by ``by`` (negative for darker)."""
    (light, chroma, hue), alpha = to_oklch(colour)
    return from_oklch((light + by, chroma, hue), alpha)


@lru_cache(maxsize=1024)
def washed_out(colour: str) -> str:
    """The colour as a disabled face carries it: chroma mostly gone, lightness toward 0.72."""
    (light, chroma, hue), alpha = to_oklch(colour)
    return from_oklch((light + (0.72 - light) * 0.75, chroma * 0.3, hue), alpha)


def hex_of(channels: tuple[float, ...]) -> str:
    """#RRGGBB, or #RRGGBBAA where it lets something through, of straight channels from 0 to 1."""
    parts = [round(255 * min(1.0, max(0.0, channel))) for channel in channels]
    if len(parts) == 4 and parts[3] == 255:
        parts.pop()
    return "#" + "".join(f"{part:02X}" for part in parts)


def over(front: tuple[float, ...], back: tuple[float, ...]) -> tuple[float, float, float, float]:
    """Source-over of straight-alpha colours (W3C Compositing and Blending 1)."""
    alpha = front[3] + back[3] * (1 - front[3])
    if alpha == 0:
        return (0.0, 0.0, 0.0, 0.0)
    r, g, b = (
        (front[i] * front[3] + back[i] * back[3] * (1 - front[3])) / alpha for i in range(3)
    )
    return r, g, b, alpha


def luminance(rgb: tuple[float, ...]) -> float:
    """Relative luminance of an sRGB colour (WCAG 2.2)."""
    parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in rgb[:3]]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(first: tuple[float, ...], second: tuple[float, ...]) -> float:
    """Contrast ratio of two opaque sRGB colours, 1 to 21 (WCAG 2.2)."""
    a, b = sorted((luminance(first), luminance(second)), reverse=True)
    return (a + 0.05) / (b + 0.05)


def contrast_of(front: str, back: str) -> float:
    """Contrast of hex colours, the front one laid over the back, which is taken as opaque."""
    first, second = (
        tuple(int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5))
        + ((int(colour[7:9], 16) / 255,) if len(colour) == 9 else (1.0,))
        for colour in (front, back)
    )
    return contrast(over(first, (*second[:3], 1.0)), second)


@lru_cache(maxsize=1)
def css_names() -> tuple[str, ...]:
    """The colour names of CSS Color 4."""
    from coloraide.css.color_names import name2val_map

    return tuple(sorted(name2val_map))
