"""Controls from sprites in a pygame-ce game: drawn at any size, with texts of your own, pressed.

Copy it beside your game, or take from it what you need.
"""

import json
import math
from itertools import pairwise
from pathlib import Path

import pygame
import pygame.freetype

OVER = pygame.BLEND_PREMULTIPLIED


class Kit:
    """A folder of exported sprites at one density (pixels per px of the design)."""

    def __init__(self, folder, density=2):
        self.folder, self.density = Path(folder), density
        self.controls = json.loads((self.folder / "sprites.json").read_text())["controls"]
        self._sheets, self._fonts = {}, {}
        pygame.freetype.init()

    def picture(self, region):
        """A picture without its transparent border, its colours multiplied by their alpha."""
        name = region["sheet"]
        if name not in self._sheets:
            self._sheets[name] = pygame.image.load(self.folder / name).premul_alpha()
        return self._sheets[name].subsurface(region["at"])

    def font(self, name):
        if name not in self._fonts:
            font = pygame.freetype.Font(self.folder / "fonts" / name, 16)
            font.origin = font.kerning = True
            font.pad = False
            self._fonts[name] = font
        return self._fonts[name]


class Axis:
    """How one side of a control stretches: fixed before and after, all else between."""

    def __init__(self, length, before, after, smallest, wanted):
        stretches = before + after < length
        self.length, self.before, self.after = length, before, after
        self.wanted = max(wanted, smallest) if stretches else length

    def at(self, place):
        """Where a place of the designed length lies in the wanted one."""
        if place <= self.before:
            return place
        if place >= self.length - self.after:
            return place + self.wanted - self.length
        share = (place - self.before) / (self.length - self.before - self.after)
        return self.before + share * (self.wanted - self.before - self.after)

    def back(self, place):
        """Where a place of the wanted length lay in the designed one."""
        if place <= self.before:
            return place
        if place >= self.wanted - self.after:
            return place - self.wanted + self.length
        share = (place - self.before) / (self.wanted - self.before - self.after)
        return self.before + share * (self.length - self.before - self.after)

    def pieces(self, start, count, room, density):
        """Of a picture's ``count`` pixels from ``start`` on, the pieces that stretch alike: where
        each lies in the picture, and from where to where it goes.
        """
        lines = [self.before, self.length - self.after]
        cuts = [start, *(round((room + line) * density) for line in lines), start + count]
        cuts = sorted(min(max(cut, start), start + count) for cut in cuts)
        for first, last in pairwise(cuts):
            if last > first:
                yield (first - start, last - first,
                       *(round((room + self.at(cut / density - room)) * density)
                         for cut in (first, last)))


class Control:
    """One control of a kit with the top left of its box at ``place`` on the screen, in pixels."""

    def __init__(self, kit, name, place, size=None, texts=None):
        self.kit, self.design, self.place = kit, kit.controls[name], place
        self.texts = texts or {}
        self.holding = set()
        self._pointer_down = False
        (width, height), (left, top, right, bottom) = self.design["size"], self.design["insets"]
        wide, high = size or (width, height)
        least = self.design["smallest"]
        self.across = Axis(width, left, right, least[0], wide)
        self.down = Axis(height, top, bottom, least[1], high)
        self._drawn = {}

    @property
    def look(self):
        held = [state for state in self.design["states"] if state in self.holding]
        return self.design["shown"]["+".join(held) or "rest"]

    def contains(self, x, y):
        """Whether a pixel of the screen lies within its outline (even-odd rule)."""
        px = self.across.back((x - self.place[0]) / self.kit.density)
        py = self.down.back((y - self.place[1]) / self.kit.density)
        inside = False
        for ring in self.design["hit"]:
            for (x0, y0), (x1, y1) in pairwise([*ring, ring[0]]):
                if (y0 > py) != (y1 > py) and px < x0 + (py - y0) * (x1 - x0) / (y1 - y0):
                    inside = not inside
        return inside

    def handle(self, event):
        """Takes a pointer's event; True when that was a click."""
        if "disabled" in self.holding or not hasattr(event, "pos"):
            return False
        inside = self.contains(*event.pos)
        self._hold("hover", inside)
        clicked = False
        if event.type == pygame.MOUSEBUTTONDOWN and event.button == 1:
            self._pointer_down = inside
        elif event.type == pygame.MOUSEBUTTONUP and event.button == 1:
            clicked, self._pointer_down = self._pointer_down and inside, False
            if clicked and "checked" in self.design["states"]:
                self._hold("checked", "checked" not in self.holding)
        self._hold("pressed", self._pointer_down and inside)
        return clicked

    def _hold(self, state, holds):
        (self.holding.add if holds else self.holding.discard)(state)

    def draw(self, screen):
        density, margins = self.kit.density, self.design["margins"]
        if self.look not in self._drawn:
            self._drawn[self.look] = self._compose()
        x, y = self.place
        screen.blit(self._drawn[self.look], (x - margins[0] * density, y - margins[1] * density),
                    special_flags=OVER)

    def _compose(self):
        density, margins = self.kit.density, self.design["margins"]
        surface = pygame.Surface((
            math.ceil((margins[0] + self.across.wanted + margins[2]) * density),
            math.ceil((margins[1] + self.down.wanted + margins[3]) * density)), pygame.SRCALPHA)
        look = self.design["looks"][self.look]
        texts = [self.design["texts"][name] for name in look.get("texts", ())]
        stretched = (self.across.wanted, self.down.wanted) != tuple(self.design["size"])
        if "whole" in look and not self.texts and not stretched:
            self._lay(surface, look["whole"])
            texts = []
        else:
            self._lay(surface, look["face"])
        for text in texts:
            own = self.texts.get(text["layer"])
            if own is None and not stretched and text.get("picture"):
                self._lay(surface, text["picture"])
            else:
                self._set(surface, text, text["text"] if own is None else own)
        faded = round(255 * look.get("opacity", 1))
        surface.fill((faded,) * 4, special_flags=pygame.BLEND_RGBA_MULT)
        return surface

    def _lay(self, surface, name):
        density, margins = self.kit.density, self.design["margins"]
        region = self.design["densities"][str(density)]["pictures"][name]
        picture, (left, top) = self.kit.picture(region), region["offset"]
        wide, high = picture.get_size()
        for y, height, y0, y1 in self.down.pieces(top, high, margins[1], density):
            for x, width, x0, x1 in self.across.pieces(left, wide, margins[0], density):
                piece = picture.subsurface((x, y, width, height))
                if (width, height) != (x1 - x0, y1 - y0):
                    piece = pygame.transform.smoothscale(piece, (x1 - x0, y1 - y0))
                surface.blit(piece, (x0, y0), special_flags=OVER)

    def _set(self, surface, text, words):
        """Sets a text of one's own where the label was designed."""
        density, margins = self.kit.density, self.design["margins"]
        words = words.upper() if text["capitals"] else words
        font, size = self.kit.font(text["font"]), text["size"] * density
        spacing = text["spacing"] * density
        x0, x1 = (self.across.at(x) * density for x in text["room"][::2])
        room = x1 - x0
        if text["flow"] == "fit":
            size *= max(0.4, min(1, room / max(1, width_of(font, words, size, spacing))))
        lines = broken(font, words, size, spacing, room) if text["flow"] == "wrap" else [words]
        if text["flow"] == "one-line" and room < width_of(font, words, size, spacing) - 1:
            lines = [shortened(font, words, size, spacing, room)]
        # Labels stand in the middle of the height, however large that gets.
        baseline = (text["pen"][1] + (self.down.wanted - self.down.length) / 2) * density
        pitch = text["line_height"] * density
        if text["flow"] == "wrap":
            baseline += pitch * (text.get("lines", 1) - len(lines)) / 2
        for number, line in enumerate(lines):
            spare = room - width_of(font, line, size, spacing)
            x = x0 + spare * {"start": 0, "centre": 0.5, "end": 1}[text["align"]]
            pen = (x + margins[0] * density, baseline + number * pitch + margins[1] * density)
            for copy in text.get("beneath", ()):
                under = pygame.Surface(surface.get_size(), pygame.SRCALPHA)
                dx, dy = (step * density for step in copy["offset"])
                grow = copy.get("grow", 0) * density
                for step in range(16 if grow else 1):
                    turn = step * math.tau / 16
                    write(under, font, line, size, spacing, copy["colour"], (
                        pen[0] + dx + grow * math.cos(turn), pen[1] + dy + grow * math.sin(turn)))
                if copy.get("blur"):
                    under = pygame.transform.gaussian_blur(
                        under, max(1, round(copy["blur"] * density * 2)))
                surface.blit(under, (0, 0), special_flags=OVER)
            write(surface, font, line, size, spacing, text["colour"], pen,
                  text.get("opacity", 1))


def width_of(font, words, size, spacing):
    metrics = font.get_metrics(words, size=size)
    return sum((each[4] if each else 0) + spacing for each in metrics) if words else 0


def write(surface, font, words, size, spacing, colour, pen, opacity=1):
    """Writes a line with its pen at a place on the baseline."""
    colour = pygame.Color(colour)
    colour.a = round(colour.a * opacity)
    pieces = list(words) if spacing else [words]
    x, y = pen
    for piece in pieces:
        line = pygame.Surface(surface.get_size(), pygame.SRCALPHA)
        font.render_to(line, (round(x), round(y)), piece, colour, size=size)
        surface.blit(line.premul_alpha(), (0, 0), special_flags=OVER)
        x += width_of(font, piece, size, spacing)


def broken(font, words, size, spacing, room):
    lines = []
    for word in words.split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and width_of(font, longer, size, spacing) <= room:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines or [""]


def shortened(font, words, size, spacing, room):
    while words and width_of(font, words + "…", size, spacing) > room:
        words = words[:-1].rstrip()
    return words + "…"
