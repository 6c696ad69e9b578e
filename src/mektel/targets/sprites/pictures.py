"""The pictures of a control: one face for every way it can look, and its texts apart from it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.kit import condition_of
from mektel.core.look import Look as NumericLook
from mektel.core.look import Margins
from mektel.core.paint import render
from mektel.formats.png import straight
from mektel.targets.sheet import Sheet
from mektel.targets.sprites.description import Film, Look, Text
from mektel.targets.sprites.films import Frames
from mektel.targets.sprites.texts import contents_of, is_text, text_of, texts_over

Pixels = NDArray[np.uint8]
# Between a look's name and a label's in the name of a text's picture.
TEXT = ":"


@dataclass(frozen=True, eq=False)
class Picture:
    """Straight RGBA (h, w, 4) of a whole picture without its transparent border; ``left`` and
    ``top`` pixels of that were cut off.
    """

    pixels: Pixels
    left: int
    top: int


@dataclass(frozen=True, eq=False)
class Drawn:
    """A control at one density: its pictures by name, each once, and the whole faces (premultiplied
    RGBA) that its stretch zones come from.
    """

    pictures: dict[str, Picture]
    faces: list[Pixels]
    size: tuple[int, int]


@dataclass(frozen=True, eq=False)
class Appearance:
    """A way that a control can look, taken apart for drawing; ``whole`` is all of it in one."""

    name: str
    full: NumericLook
    face: NumericLook
    texts: tuple[tuple[str, NumericLook], ...]
    whole: NumericLook | None


@dataclass(frozen=True, eq=False)
class ControlPictures:
    """What is drawn of a control, and what is said about it, whatever the density."""

    sheet: Sheet
    shown: dict[str, str]
    appearances: list[Appearance] = field(default_factory=list)
    looks: dict[str, Look] = field(default_factory=dict)
    texts: dict[str, Text] = field(default_factory=dict)
    films: dict[str, Film] = field(default_factory=dict)
    # Frames of films by name, each once; and the room that they need besides.
    frames: dict[str, NumericLook] = field(default_factory=dict)
    room: Margins | None = None

    @property
    def margins(self) -> Margins:
        """Room round the box in every whole picture."""
        own: Margins = self.sheet.margins
        return own if self.room is None else own.union(self.room)

    def add_film(self, gesture: str, frames: Frames) -> None:
        """A gesture as pictures of its own; looks of like numbers are drawn once."""
        known = {look: name for name, look in self.frames.items()}
        names = []
        for look in frames.looks:
            name = known.setdefault(look, f"frame-{len(known)}")
            self.frames[name] = look
            names.append(name)
        self.films[gesture] = Film(
            frames=tuple(names), durations=frames.durations, loops=frames.loops)

    def draw(self, density: int) -> Drawn:
        """All its pictures at a density; looks of like numbers are drawn once."""
        margins = self.margins
        pictures: dict[str, Picture] = {}
        faces: dict[str, Pixels] = {}

        def add(name: str, look: NumericLook) -> Pixels:
            whole = render(look, density, margins).rgba
            pictures[name] = _trimmed(whole)
            return whole

        for appearance in self.appearances:
            look = self.looks[appearance.name]
            if look.face not in pictures:
                faces[look.face] = add(look.face, appearance.face)
            for name, text in appearance.texts:
                if name not in pictures:
                    add(name, text)
            if look.whole is not None and appearance.whole is not None:
                add(look.whole, appearance.whole)
        for name, frame in self.frames.items():
            add(name, frame)
        height, width = next(iter(faces.values())).shape[:2]
        return Drawn(pictures, [*faces.values()], (width, height))


def pictures_of(sheet: Sheet) -> ControlPictures:
    """A control's looks, taken apart into faces and texts; nothing is drawn yet."""
    firsts: dict[NumericLook, str] = {}
    shown = {}
    for flags in sheet.sets:
        look = sheet.look(flags)
        shown[condition_of(flags)] = firsts.setdefault(look, condition_of(flags))
    control = ControlPictures(sheet, shown)
    labels = {part.name for part in sheet.layers if part.kind == "label" and not part.host}
    names: dict[NumericLook, str] = {}
    for flags in sheet.sets:
        look = sheet.look(flags)
        name = condition_of(flags)
        if firsts[look] == name:
            _take_apart(control, name, look, sheet.pose(flags), labels, names)
    return control


def _take_apart(
    control: ControlPictures, name: str, look: NumericLook, pose: Any, labels: set[str],
    names: dict[NumericLook, str],
) -> None:
    plain = replace(look, opacity=1.0)
    over = {layer.id for layer in texts_over(look, labels)}
    every = [layer for layer in look.layers if layer.id in labels and is_text(layer)]
    face = replace(plain, layers=tuple(layer for layer in look.layers if layer not in every))
    # Where something lies over a text it cannot be put together from two pictures.
    whole = plain if any(layer.id not in over for layer in every) else None
    contents = contents_of(control.sheet, look)
    texts, drawn = [], []
    for layer in every:
        alone = replace(plain, layers=(layer,))
        own, picture = f"{name}{TEXT}{layer.id}", None
        if whole is None and _shows(layer):
            picture = names.setdefault(alone, own)
            drawn.append((picture, alone))
        text = text_of(control.sheet, pose, look, layer, contents, picture)
        alike = next((key for key, other in control.texts.items() if other == text), own)
        control.texts[alike] = text
        texts.append(alike)
    control.appearances.append(Appearance(name, look, face, tuple(drawn), whole))
    control.looks[name] = Look(
        face=names.setdefault(face, name),
        whole=None if whole is None else names.setdefault(whole, f"{name}-whole"),
        opacity=round(look.opacity, 4), texts=tuple(texts), contents=contents)


def _shows(layer: Any) -> bool:
    return any(member.text.strip() for member in getattr(layer, "members", (layer,)))


def _trimmed(rgba: Pixels) -> Picture:
    covered = rgba[:, :, 3] > 0
    rows, columns = np.flatnonzero(covered.any(axis=1)), np.flatnonzero(covered.any(axis=0))
    if not len(rows):
        return Picture(np.zeros((1, 1, 4), np.uint8), 0, 0)
    top, left = int(rows[0]), int(columns[0])
    inside = rgba[top : rows[-1] + 1, left : columns[-1] + 1]
    return Picture(straight(inside), left, top)
