"""The sounds that answers play: shipped ones, made by ``tools/sounds.py``, and those of a kit."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from mektel.core.kit import Kit
from mektel.core.kit.answers import SHIPPED_SOUNDS
from mektel.core.kit.own_sounds import wav_bytes

FOLDER = Path(__file__).resolve().parents[1] / "sounds"
SOUNDS: tuple[str, ...] = SHIPPED_SOUNDS


@lru_cache(maxsize=32)
def sound_file(name: str) -> bytes:
    """A shipped sound as a WAV file: 16 bit, one channel, 24 kHz. ``name`` is one of ``SOUNDS``."""
    if name not in SOUNDS:
        raise KeyError(name)
    return (FOLDER / f"{name}.wav").read_bytes()


def sound_bytes(kit: Kit, name: str) -> bytes:
    """A sound as a WAV file: one that is shipped, or one of the kit by its id."""
    return sound_file(name) if name in SOUNDS else wav_bytes(kit.sound(name))
