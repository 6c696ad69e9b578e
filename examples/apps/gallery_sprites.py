"""Every control of a kit from sprites: each look, texts of your own, and every size.

First:  ./start export KIT --target sprites --out examples/apps/sprites
Then:   python gallery_sprites.py sprites [FOLDER], which writes each page as a picture, with a
        list of what stands where. Left and right change the page.
"""

import json
import sys
from pathlib import Path

import pygame
from pygame_controls import Control, Kit

GROUND, ROOM, WIDTH = "#E9E2D3", 24, 1600
SIZES = ((1.0, 1.0), (1.5, 1.0), (2.4, 1.5))
OWN = "Ferry 7"


def pages(kit):
    """By title what stands on each page: control, look, size and texts of its own."""
    states, own, sizes = [], [], []
    for name, design in kit.controls.items():
        (width, height), shown = design["size"], {}
        for held, look in design["shown"].items():
            shown.setdefault(look, held)
        for held in shown.values():
            states.append((name, held, None, {}))
        texts = design.get("texts", {}).values()
        labels = {text["layer"]: text["text"] for text in texts}
        if labels:
            own += [(name, held, None, labels) for held in ("rest", "pressed", "disabled")]
            own.append((name, "rest", None, dict.fromkeys(labels, OWN)))
        sizes += [(name, "rest", (width * wide, height * high), {}) for wide, high in SIZES]
    return {"States": states, "Own texts": own, "Sizes": sizes}


def laid_out(kit, stands):
    """Controls in rows from left to right, and the height that takes."""
    density, made, x, y, row = kit.density, [], 0, 0, 0
    for name, held, size, texts in stands:
        control = Control(kit, name, (0, 0), size, texts)
        control.holding = set() if held == "rest" else set(held.split("+"))
        left, top, right, bottom = (side * density for side in control.design["margins"])
        wide = left + control.across.wanted * density + right + ROOM
        if x + wide > WIDTH:
            x, y, row = 0, y + row, 0
        control.place = (round(x + left + ROOM / 2), round(y + top + ROOM / 2))
        made.append((control, held))
        x, row = x + wide, max(row, top + control.down.wanted * density + bottom + ROOM)
    return made, round(y + row)


def main(folder, out=None):
    pygame.display.init()
    screen = pygame.display.set_mode((WIDTH, 900))
    kit = Kit(folder)
    made = {title: laid_out(kit, stands) for title, stands in pages(kit).items()}
    if out is None:
        show(screen, made)
        return
    stands = []
    for title, (controls, height) in made.items():
        page = pygame.Surface((WIDTH, height))
        page.fill(GROUND)
        for control, held in controls:
            control.draw(page)
            stands.append([title, control.design["name"], held, control.texts, *control.place,
                           control.across.wanted, control.down.wanted])
        pygame.image.save(page, str(Path(out) / f"{title}.png"))
    (Path(out) / "stands.json").write_text(json.dumps(stands))


def show(screen, made):
    titles, at, clock = list(made), 0, pygame.time.Clock()
    while True:
        controls, _ = made[titles[at]]
        for event in pygame.event.get():
            if event.type == pygame.QUIT:
                return
            if event.type == pygame.KEYDOWN and event.key in (pygame.K_LEFT, pygame.K_RIGHT):
                at = (at + (1 if event.key == pygame.K_RIGHT else -1)) % len(titles)
            for control, _ in controls:
                control.handle(event)
        pygame.display.set_caption(titles[at])
        screen.fill(GROUND)
        for control, _ in controls:
            control.draw(screen)
        pygame.display.flip()
        clock.tick(60)


if __name__ == "__main__":
    main(*sys.argv[1:])
