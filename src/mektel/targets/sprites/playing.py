"""Sprites put together again by what their JSON says, as a game does it."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from mektel.core.kit import condition_of
from mektel.formats.png import premultiplied
from mektel.targets.base import Pixels, Shot, TargetError

INDEX = "sprites.json"


class Player:
    """Reads a folder of sprites once and composes controls from it."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._sheets: dict[str, Pixels] = {}
        try:
            self.index: dict[str, Any] = json.loads(
                (folder / INDEX).read_text(encoding="utf-8"))
        except (OSError, ValueError) as error:
            raise TargetError(f"{folder / INDEX}: {error}") from None

    def compose(self, shot: Shot) -> tuple[Pixels, tuple[float, ...]]:
        """Premultiplied RGBA (h, w, 4) of a control as shot, and its box in it (px)."""
        control = self.index["controls"][shot.control.id]
        density = control["densities"][str(shot.scale)]
        look = control["looks"][control["shown"][condition_of(shot.flags)]]
        width, height = density["size"]
        surface = np.zeros((height, width, 4), np.float64)
        own = [control["texts"][name] for name in look.get("texts", ())]
        texts = [text for text in own if not (text["follows"] and shot.text == "")]
        if "whole" in look and len(texts) == len(own):
            names = [look["whole"]]
        else:
            names = [look["face"], *(text["picture"] for text in texts if text["picture"])]
        for name in names:
            self._lay(surface, density["pictures"][name])
        pixels = (surface * look.get("opacity", 1) + 0.5).astype(np.uint8)
        left, top, right, bottom = control["margins"]
        box = (left, top, width / shot.scale - left - right, height / shot.scale - top - bottom)
        return pixels, box

    def _lay(self, surface: Any, region: dict[str, Any]) -> None:
        """Lays a picture over what is there, both premultiplied."""
        sheet = self._sheet(region["sheet"])
        (x, y, wide, high), (left, top) = region["at"], region["offset"]
        part = sheet[y : y + high, x : x + wide].astype(np.float64)
        rows, columns = slice(top, top + high), slice(left, left + wide)
        under = surface[rows, columns]
        surface[rows, columns] = part + under * (1 - part[:, :, 3:] / 255)

    def _sheet(self, name: str) -> Pixels:
        if name not in self._sheets:
            content = (self._folder / name).read_bytes()
            self._sheets[name] = premultiplied(
                np.asarray(Image.open(io.BytesIO(content)).convert("RGBA")))
        return self._sheets[name]
