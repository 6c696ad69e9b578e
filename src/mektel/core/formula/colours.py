"""What formulas can call. This file is also shipped: it needs Python's own library only.

Colours are "#RRGGBB" or "#RRGGBBAA". Lightness is that of OKLCH, from 0 to 1 (Björn Ottosson, "A
perceptual color space for image processing", 2020, as in CSS Color 4).
"""

from __future__ import annotations

import math
from collections.abc import Sequence


def _channels(colour: str) -> list[float]:
    if not isinstance(colour, str) or len(colour) not in (7, 9) or colour[0] != "#":
        raise ValueError(f"{colour!r} is not a colour")
    return [int(colour[at : at + 2], 16) / 255 for at in range(1, len(colour), 2)]


def _written(channels: Sequence[float], alpha: float) -> str:
    values = [*channels] if alpha >= 1 else [*channels, max(0.0, alpha)]
    steps = (math.floor(min(1.0, max(0.0, value)) * 255 + 0.5) for value in values)
    return "#" + "".join(f"{step:02X}" for step in steps)


def _linear(value: float) -> float:
    return value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4


def _encoded(value: float) -> float:
    return value * 12.92 if value <= 0.0031308 else 1.055 * value ** (1 / 2.4) - 0.055


def _oklab(rgb: Sequence[float]) -> tuple[float, float, float]:
    r, g, b = (_linear(value) for value in rgb)
    long = (0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b) ** (1 / 3)
    middle = (0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b) ** (1 / 3)
    short = (0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b) ** (1 / 3)
    return (0.2104542553 * long + 0.7936177850 * middle - 0.0040720468 * short,
            1.9779984951 * long - 2.4285922050 * middle + 0.4505937099 * short,
            0.0259040371 * long + 0.7827717662 * middle - 0.8086757660 * short)


def _srgb(light: float, a: float, b: float) -> list[float]:
    long = (light + 0.3963377774 * a + 0.2158037573 * b) ** 3
    middle = (light - 0.1055613458 * a - 0.0638541728 * b) ** 3
    short = (light - 0.0894841775 * a - 1.2914855480 * b) ** 3
    return [4.0767416621 * long - 3.3077115913 * middle + 0.2309699292 * short,
            -1.2684380046 * long + 2.6097574011 * middle - 0.3413193965 * short,
            -0.0041960863 * long - 0.7034186147 * middle + 1.7076147010 * short]


def _shown(light: float, a: float, b: float) -> list[float]:
    """sRGB of an OKLab colour; what a screen cannot show is brought in by lowering chroma."""
    light = min(1.0, max(0.0, light))
    low, high = 0.0, 1.0
    if all(-0.0005 <= value <= 1.0005 for value in _srgb(light, a, b)):
        low = 1.0
    else:
        for _ in range(20):
            middle = (low + high) / 2
            if all(-0.0005 <= value <= 1.0005 for value in _srgb(light, a * middle, b * middle)):
                low = middle
            else:
                high = middle
    return [_encoded(min(1.0, max(0.0, value))) for value in _srgb(light, a * low, b * low)]


def _alpha(channels: Sequence[float]) -> float:
    return channels[3] if len(channels) == 4 else 1.0


def lighten(colour: str, amount: float) -> str:
    """The colour with its lightness raised by ``amount``."""
    channels = _channels(colour)
    light, a, b = _oklab(channels[:3])
    return _written(_shown(light + amount, a, b), _alpha(channels))


def darken(colour: str, amount: float) -> str:
    """The colour with its lightness lowered by ``amount``."""
    return lighten(colour, -amount)


def wash(colour: str, amount: float) -> str:
    """The colour drawn towards a light grey, wholly at 1: how a disabled face carries it."""
    channels = _channels(colour)
    light, a, b = _oklab(channels[:3])
    keep = 1 - amount
    return _written(_shown(light + (0.72 - light) * amount, a * keep, b * keep), _alpha(channels))


def mix(colour: str, other: str, share: float) -> str:
    """Between two colours in OKLab: all of the first at 0, of the other at 1."""
    first, second = _channels(colour), _channels(other)
    share = min(1.0, max(0.0, share))
    from_, to = _oklab(first[:3]), _oklab(second[:3])
    mixed = [x + (y - x) * share for x, y in zip(from_, to, strict=True)]
    return _written(_shown(*mixed), _alpha(first) + (_alpha(second) - _alpha(first)) * share)


def translucent(colour: str, alpha: float) -> str:
    """The colour with its alpha multiplied."""
    channels = _channels(colour)
    return _written(channels[:3], _alpha(channels) * min(1.0, max(0.0, alpha)))


def _luminance(colour: str) -> float:
    r, g, b = (_linear(value) for value in _channels(colour)[:3])
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


def readable_on(colour: str, light: str = "#FFFFFF", dark: str = "#000000") -> str:
    """Of two colours the one with more contrast on this one (WCAG 2.2)."""
    ground = _luminance(colour) + 0.05
    ratios = [max(ground, luminance) / min(ground, luminance)
              for luminance in (_luminance(light) + 0.05, _luminance(dark) + 0.05)]
    return light if ratios[0] >= ratios[1] else dark


def clamp(value: float, low: float, high: float) -> float:
    """A number brought between two others."""
    return max(low, min(high, value))


def round_(value: float) -> float:
    """To the nearest whole number, halves upward."""
    return float(math.floor(value + 0.5))


def floor(value: float) -> float:
    return float(math.floor(value))


def ceil(value: float) -> float:
    return float(math.ceil(value))


def modulo(left: float, right: float) -> float:
    """What is left of dividing, with the sign of the divisor."""
    return left - right * math.floor(left / right)


def whole(left: float, right: float) -> float:
    """How often one number goes wholly into another."""
    return float(math.floor(left / right))


def text_of(value: float) -> str:
    """A number as text, with three decimals at most."""
    thousandths = math.floor(abs(value) * 1000 + 0.5)
    digits = f"{thousandths // 1000}.{thousandths % 1000:03d}".rstrip("0").rstrip(".")
    return f"-{digits}" if value < 0 and thousandths else digits
