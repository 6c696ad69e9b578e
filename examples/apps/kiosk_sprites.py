"""A frame of a small game with three shipped controls, from their atlas, with labels of its own.

First:  ./start export KIT passage ramp board --target sprites --out examples/apps/sprites
"""

import json
import sys
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

folder = Path(sys.argv[1])
index = json.loads((folder / "sprites.json").read_text())["controls"]
atlas = Image.open(folder / index["passage"]["densities"]["2"]["atlas"]).convert("RGBA")
screen = Image.new("RGBA", (560, 420), "#E9E2D3")


def draw(control: str, state: str, text: str, x: int, y: int) -> None:
    """A control at (x, y), its label drawn in the colour and place that the sprites tell."""
    told = index[control]
    regions = told["densities"]["2"]["regions"]
    left, top, width, height = regions[f"{state}-blank" if text else state]
    sprite = atlas.crop((left, top, left + width, top + height))
    screen.alpha_composite(sprite, (x - 2 * told["margins"][0], y - 2 * told["margins"][1]))
    if text:
        label = told["label"]
        font = ImageFont.truetype(next((folder / "fonts").glob("*SemiBold.ttf")), 2 * label["size"])
        middle = x + told["size"][0]
        ImageDraw.Draw(screen).text((middle, y + 2 * label["pen"][1]), text, anchor="ms",
                                    font=font, fill=label["colours"][state][:7])


draw("passage", "hover", "Child", 60, 40)
draw("ramp", "checked", "", 60, 180)
draw("board", "disabled", "Closed", 60, 290)
screen.save(sys.argv[2])
