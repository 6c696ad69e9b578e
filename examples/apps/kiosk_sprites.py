"""A small game with three shipped controls that are pressed, from sprites, in pygame-ce.

First:  ./start export KIT passage ramp board --target sprites --out examples/apps/sprites
Then:   python kiosk_sprites.py sprites [FRAME.png], which plays a press and writes the last frame.
"""

import sys

import pygame
from pygame_controls import Control, Kit

SEEN = (560, 420)


def play(folder, frame=None):
    pygame.display.init()
    screen = pygame.display.set_mode(SEEN)
    kit = Kit(folder)
    child = Control(kit, "passage", (60, 40), texts={"Label": "Child"})
    ramp = Control(kit, "ramp", (60, 180))
    closed = Control(kit, "board", (60, 290), texts={"Label": "Closed"})
    closed.holding = {"disabled"}
    controls = [child, ramp, closed]
    if frame:  # the pointer presses the ramp's switch and goes on to the ticket
        for kind, at in ((pygame.MOUSEMOTION, (120, 200)), (pygame.MOUSEBUTTONDOWN, (120, 200)),
                         (pygame.MOUSEBUTTONUP, (120, 200)), (pygame.MOUSEMOTION, (200, 90)),
                         (pygame.QUIT, None)):
            more = {"button": 1} if kind != pygame.MOUSEMOTION else {}
            pygame.event.post(pygame.event.Event(kind, {"pos": at, **more} if at else {}))
    clock, playing = pygame.time.Clock(), True
    while playing:
        for event in pygame.event.get():
            playing = playing and event.type != pygame.QUIT
            for control in controls:
                if control.handle(event):
                    print(control.design["name"], *sorted(control.holding))
        screen.fill("#E9E2D3")
        for control in controls:
            control.draw(screen)
        pygame.display.flip()
        clock.tick(60)
    if frame:
        pygame.image.save(screen, frame)


if __name__ == "__main__":
    play(*sys.argv[1:])
