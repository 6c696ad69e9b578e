"""Frames as files: animated WebP or PNG, a folder of PNG, or all in one picture."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mektel.core.errors import MektelError
from mektel.formats.png import png_bytes, straight

Pixels = NDArray[np.uint8]
SUFFIXES = (".webp", ".png")
# A picture of all frames is at most so wide, in pixels.
WIDEST = 1600
GAP = 8


class FilmFileError(MektelError):
    """A name that no film can be written under."""


def film_bytes(frames: Sequence[Pixels], seconds: Sequence[float], suffix: str) -> bytes:
    """An endless animation of premultiplied frames, all of one shape (h, w, 4), each shown for so
    many ``seconds``; like frames that follow each other are one. ``suffix`` is .webp or .png.
    """
    if suffix not in SUFFIXES:
        raise FilmFileError(f"A film ends in .webp or .png, not “{suffix}”.")
    kept: list[Pixels] = []
    shown: list[float] = []
    for frame, duration in zip(frames, seconds, strict=True):
        if kept and (frame is kept[-1] or np.array_equal(frame, kept[-1])):
            shown[-1] += duration
        else:
            kept.append(frame)
            shown.append(duration)
    pictures = [Image.fromarray(straight(frame)) for frame in kept]
    # Whole milliseconds, with nothing lost from frame to frame.
    ends = np.round(np.cumsum([0.0, *shown]) * 1000).astype(int)
    out = io.BytesIO()
    if suffix == ".webp":
        pictures[0].save(
            out, "WEBP", save_all=True, append_images=pictures[1:], loop=0, lossless=True,
            quality=0, method=0, exact=True, duration=np.diff(ends).tolist())
    else:
        pictures[0].save(out, "PNG", save_all=True, append_images=pictures[1:], loop=0,
                         duration=np.diff(ends).tolist(), blend=0, compress_level=1)
    return out.getvalue()


def strip_of(frames: Sequence[Pixels]) -> Pixels:
    """All frames in one premultiplied picture, in rows from the left."""
    height, width = frames[0].shape[:2]
    across = max(1, min(len(frames), (WIDEST + GAP) // (width + GAP)))
    down = -(-len(frames) // across)
    sheet = np.zeros((down * (height + GAP) - GAP, across * (width + GAP) - GAP, 4), np.uint8)
    for at, frame in enumerate(frames):
        y, x = (at // across) * (height + GAP), (at % across) * (width + GAP)
        sheet[y : y + height, x : x + width] = frame
    return sheet


def write_frames(frames: Sequence[Pixels], folder: Path) -> int:
    """Every frame as a numbered PNG in a folder, which is made; gives how many."""
    folder.mkdir(parents=True, exist_ok=True)
    for at, frame in enumerate(frames):
        (folder / f"frame-{at:04}.png").write_bytes(png_bytes(frame))
    return len(frames)
