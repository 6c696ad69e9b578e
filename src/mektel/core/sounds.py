"""The short sounds that Mektel ships: its own, made by ``tools/sounds.py``."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import get_args

from mektel.core.kit.answers import SoundName

FOLDER = Path(__file__).resolve().parents[1] / "sounds"
SOUNDS: tuple[str, ...] = get_args(SoundName)


@lru_cache(maxsize=32)
def sound_file(name: str) -> bytes:
    """A shipped sound as a WAV file: 16 bit, one channel, 24 kHz. ``name`` is one of ``SOUNDS``."""
    if name not in SOUNDS:
        raise KeyError(name)
    return (FOLDER / f"{name}.wav").read_bytes()
