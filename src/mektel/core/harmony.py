"""Colours proposed to go together, in OKLCH, each readable with one of two texts on it."""

from __future__ import annotations

from io import BytesIO

from mektel.core.colour import LCH, contrast_of, from_oklch, to_oklch

READABLE = 4.5
# How far each proposal lies from the chosen colour: lightness, share of its chroma, turn of hue.
STEPS: tuple[tuple[str, float, float, float], ...] = (
    ("deep", -0.18, 0.85, 0.0), ("base", 0.0, 1.0, 0.0), ("light", 0.2, 0.6, 0.0),
    ("warm", 0.1, 1.2, 150.0), ("accent", -0.02, 1.4, 180.0), ("near", -0.1, 0.9, -70.0),
)


def goes_with(colour: str, ink: str = "#22302F", paper: str = "#FFFFFF") -> list[tuple[str, str]]:
    """Six colours that go with one: (what it is, hex), each with a contrast of 4.5 to one text.

    >>> len(goes_with("#2F8C93"))
    6
    """
    (light, chroma, hue), _ = to_oklch(colour)
    chroma = max(chroma, 0.04)
    matches = []
    for name, lighter, share, turn in STEPS:
        wanted = (min(0.95, max(0.2, light + lighter)), min(0.2, chroma * share),
                  (hue + turn) % 360)
        matches.append((name, readable(wanted, ink, paper)))
    return matches


def readable(lch: LCH, ink: str, paper: str) -> str:
    """The colour, moved in lightness as little as lets one of the two texts be read on it."""
    light, chroma, hue = lch
    tries = sorted((at / 100 for at in range(15, 98)), key=lambda lightness: abs(lightness - light))
    for lightness in [light, *tries]:
        colour = from_oklch((lightness, chroma, hue))
        if max(contrast_of(ink, colour), contrast_of(paper, colour)) >= READABLE:
            return colour
    return from_oklch(lch)


def colours_of_picture(content: bytes, count: int = 6) -> list[str]:
    """The colours that a picture (PNG) is mostly made of, the most frequent first.

    Raises :class:`OSError` for what is not a picture.
    """
    from PIL import Image

    with Image.open(BytesIO(content)) as opened:
        picture = opened.convert("RGB")
        picture.thumbnail((160, 160))
    few = picture.quantize(count * 2, Image.Quantize.MEDIANCUT)
    palette = few.getpalette() or []
    used = sorted(few.getcolors() or [], reverse=True)
    colours: list[str] = []
    for _, index in used:
        assert isinstance(index, int)
        r, g, b = palette[3 * index : 3 * index + 3]
        colour = f"#{r:02X}{g:02X}{b:02X}"
        (light, chroma, hue), _ = to_oklch(colour)
        near = any(
            abs(light - a) < 0.08 and abs(chroma - c) < 0.05 and abs(hue - h) % 360 < 30
            for (a, c, h), _ in map(to_oklch, colours))
        if not near:
            colours.append(colour)
    return colours[:count]
