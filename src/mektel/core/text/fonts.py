"""The label fonts that ship with Mektel, all under the SIL Open Font License 1.1."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Any

import uharfbuzz

FONTS = Path(__file__).resolve().parents[2] / "fonts"
FAMILIES = {"Hanken Grotesk": "hanken-grotesk/HankenGrotesk", "Rubik": "rubik/Rubik"}
WEIGHTS = {400: "Regular", 500: "Medium", 600: "SemiBold", 700: "Bold", 800: "ExtraBold"}


def font_file(family: str, weight: int) -> Path:
    return FONTS / f"{FAMILIES[family]}-{WEIGHTS[weight]}.ttf"


def licence_file(family: str) -> Path:
    return (FONTS / FAMILIES[family]).parent / "OFL.txt"


@lru_cache(maxsize=512)
def lacking(text: str, family: str, weight: int) -> str:
    """The letters of a text that a font has no glyphs for, each once."""
    font = loaded_font(family, weight)
    return "".join(dict.fromkeys(
        letter for letter in text
        if not letter.isspace() and font.get_nominal_glyph(ord(letter)) is None))


@lru_cache(maxsize=32)
def loaded_font(family: str, weight: int) -> Any:
    """The font ready for shaping, in font units (unhinted)."""
    blob = uharfbuzz.Blob.from_file_path(str(font_file(family, weight)))
    return uharfbuzz.Font(uharfbuzz.Face(blob))
