"""Inputs for ``fuzz.py``: the examples, samples and kept faults, changed at random.

Most changes keep the form of the format (another number, a value that the same key or property has
elsewhere, an entry dropped or repeated), so that the input is read and used rather than refused at
once; the rest is noise.
"""

from __future__ import annotations

import io
import json
import random
import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from PIL import Image, ImageDraw
from tests.drawings import WHOLE, drawn
from tests.drawings_with_paints import LETTERED, PAINTED

from mektel.core.kit.moving import layer_to_text
from mektel.core.motion.gestures import GESTURES, gesture
from mektel.formats.gesture import gesture_text
from mektel.formats.kitfile import kit_to_text, read_kit
from mektel.formats.tokens import tokens_to_text
from mektel.samples import DEMO, starter_files

ROOT = Path(__file__).resolve().parents[1]
FAULTS = ROOT / "tests" / "faults"
KINDS = ("css", "svg", "tokens", "kit", "layer", "png", "picture", "gesture")
FAULT_SHARE, FORM_SHARE = 0.15, 0.8
MOST_BYTES = 2 * 2**20
LARGE_FAULT = 30_000
NOISE = ["", "0", "-1", "1e9", "1e400", "NaN", "null", "true", "[]", "{}", '"', "'", "\\", "\x00",
         "\ud800".encode("utf-8", "surrogatepass").decode("utf-8", "replace"), "é", "🜁", "‮",
         "calc(1 + 2)", "var(--a)", "url(#a)", "matrix(1 2 3)", "999999999", "0.00001", "${x}", "`",
         "inherit", "50%", "1turn", "-", "+", ",", "(", ")", "<", ">", "&", ";", "}", "{"]
NONSENSE: list[Any] = [None, True, -1, 0, 1e9, 1e-9, "", "#FFFFFF", [], {}, [1, 2], "rest", "hover",
                       "x" * 300, "\ud800", 2000, 0.5, -20]
NUMBER = re.compile(rb"-?\d+(?:\.\d+)?")
# A property and its value in a style sheet; an attribute and its value in a drawing.
PAIRS = {"css": re.compile(rb"([a-z-]+)\s*:\s*([^;{}]+)"),
         "svg": re.compile(rb'([a-zA-Z:-]+)\s*=\s*"([^"]*)"')}


# Animations, stripes and border images, of which no example has any.
MOVING = b"""
@keyframes turn { to { transform: rotate(360deg) } }
@keyframes swell { 0%, 100% { transform: scale(1); opacity: 1 }
  50% { transform: scale(1.1); opacity: .5 } }
@keyframes glow { 50% { background-color: #F80; box-shadow: 0 0 12px 4px #F808; color: red } }
.key { width: 90px; height: 40px; background: linear-gradient(teal, navy); border: 2px solid red;
  animation: swell 2s infinite ease-in-out, glow 1.5s -0.3s infinite alternate steps(2) }
.key:hover { animation-name: turn; animation-duration: 600ms; animation-iteration-count: infinite }
.key:active { background: gold right 8px center/auto 60% no-repeat url("data:image/svg+xml,%3csvg \
viewBox='0 0 9 9'%3e%3ccircle r='4' fill='red'/%3e\
%3cpath d='M1 1l7 7' stroke='blue'/%3e%3c/svg%3e")}
.key:focus { background: linear-gradient(45deg, #FFF8 25%, #0000 25% 50%, #FFF8 50% 75%, #0000 75%)
  2px 3px/20px 20px repeat, linear-gradient(90deg, gold, navy) 0 50%/17px 6px repeat-x border-box;
  border-image: linear-gradient(30deg, gold, teal 40%, navy) 2 1 fill/3px 1 }
.key::after { content: ""; position: absolute; inset: 4px; border: 2px solid; animation: turn 1s
  linear infinite reverse }
"""


@dataclass
class Pool:
    """What is changed: inputs of one kind, faults apart, and the values that each key has."""

    sound: list[bytes] = field(default_factory=list)
    faults: list[bytes] = field(default_factory=list)
    values: dict[Any, list[Any]] = field(default_factory=dict)

    def pick(self, dice: random.Random) -> bytes:
        faults = self.faults and (not self.sound or dice.random() < FAULT_SHARE)
        return dice.choice(self.faults if faults else self.sound)


def kind_of(name: str) -> str:
    """What a file of ``tests/faults`` is tried as."""
    word = re.match(r"[a-z]+", name)
    return word[0] if word and word[0] in KINDS else "kit"


def pools() -> dict[str, Pool]:
    """Everything that is changed, for each kind of input."""
    made = {kind: Pool() for kind in KINDS}
    for path in sorted((ROOT / "examples").rglob("*")):
        kind = {".css": "css", ".svg": "svg", ".json": "tokens", ".png": "png"}.get(path.suffix)
        if kind:
            made[kind].sound.append(path.read_bytes())
    made["css"].sound += [MOVING] * 3
    made["picture"].sound += made["png"].sound
    made["svg"].sound += [drawn(inside) for inside in (
        *WHOLE.values(), *PAINTED.values(), *(inside for inside, _ in LETTERED.values()))]
    made["kit"].sound += [kit_to_text(read_kit(path)).encode() for path in starter_files().values()]
    demo = read_kit(DEMO)
    for at, control in enumerate(demo.controls):
        alone = demo.model_copy(update={"controls": (control.model_copy(update={"base": None}),)})
        made["kit"].sound.append(kit_to_text(alone).encode())
        made["layer"].sound += [layer_to_text(demo, control.id, layer.id).encode()
                                for layer in control.layers[:3 if at % 2 else 9]]
    made["tokens"].sound.append(tokens_to_text(demo).encode())
    made["gesture"].sound += [gesture_text(gesture(name)).encode() for name in GESTURES]
    for path in sorted(FAULTS.iterdir()):
        content = path.read_bytes() if path.suffix != ".py" else b""
        # The large ones are about time and memory, and are tried as they are by the tests.
        if content and len(content) < LARGE_FAULT:
            made[kind_of(path.name)].faults.append(content)
    for kind, pool in made.items():
        for content in (*pool.sound, *pool.faults):
            for key, value in _pairs(kind, content):
                pool.values.setdefault(key, []).append(value)
    return made


def _pairs(kind: str, content: bytes) -> list[tuple[Any, Any]]:
    if kind in PAIRS:
        return PAIRS[kind].findall(content)
    try:
        return [(key, node[key]) for node, key in _spots(json.loads(content))]
    except (ValueError, RecursionError):
        return []


def changed(kind: str, pool: Pool, dice: random.Random) -> bytes:
    """An input of a kind with a few things changed."""
    if kind == "picture":
        content = _made_up_picture(dice)
        return content if dice.random() < FORM_SHARE else _changed_bytes(content, pool, dice)
    content = pool.pick(dice)
    if dice.random() < FORM_SHARE:
        if kind in PAIRS:
            return _changed_values(PAIRS[kind], content, pool, dice)
        if content.lstrip()[:1] == b"{":
            return _changed_json(content, pool, dice)
    return _changed_bytes(content, pool, dice)


def _made_up_picture(dice: random.Random) -> bytes:
    """A sheet, or one picture: boxes and ellipses that repeat, touch, overlap or are cut off."""
    size = dice.choice((1, 2, 5, 17, 40, 90)), dice.choice((1, 3, 12, 30, 64))
    count = dice.choice((1, 1, 2, 3, 4, 8))
    kind = dice.choice(("PNG", "PNG", "WEBP", "JPEG"))
    ground = dice.choice(((0, 0, 0, 0), (0, 0, 0, 0), (230, 226, 211, 255), (9, 9, 9, 3)))
    sheet = Image.new("RGBA", (size[0] * count + dice.choice((0, 0, 7)), size[1]), ground)
    draw = ImageDraw.Draw(sheet)
    for at in range(count):
        for _ in range(dice.choice((0, 1, 2, 4))):
            colour = tuple(dice.randrange(256) for _ in range(4))
            x, y = (dice.uniform(-0.2, 0.8) * side for side in size)
            w, h = (dice.uniform(0, 1.2) * side for side in size)
            box = (at * size[0] + x, y, at * size[0] + x + w, y + h)
            (draw.ellipse if dice.random() < 0.5 else draw.rectangle)(box, fill=colour)
    out = io.BytesIO()
    (sheet.convert("RGB") if kind == "JPEG" else sheet).save(out, kind)
    return out.getvalue()


def _changed_values(
    pattern: re.Pattern[bytes], content: bytes, pool: Pool, dice: random.Random,
) -> bytes:
    """Text with values taken from elsewhere, other numbers, and pairs that are dropped."""
    for _ in range(dice.choice((1, 1, 2, 3, 5))):
        pairs = list(pattern.finditer(content))
        if not pairs:
            break
        pair = dice.choice(pairs)
        first, last = pair.span(2)
        way = dice.random()
        if way < 0.35:
            value = dice.choice(pool.values.get(pair[1]) or [b"0"])
        elif way < 0.75:
            value = NUMBER.sub(lambda number: _other_number(number[0], dice), pair[2])
        elif way < 0.85:
            value = dice.choice(pool.values[dice.choice(list(pool.values))])
        elif way < 0.95:
            value = pair[2] + b" " + dice.choice(NOISE).encode("utf-8", "replace")
        else:
            first, last, value = *pair.span(), b""
        content = content[:first] + value + content[last:]
    return content[:MOST_BYTES]


def _other_number(number: bytes, dice: random.Random) -> bytes:
    if dice.random() < 0.4:
        return number
    return repr(round(float(number) * dice.choice((0, -1, 0.01, 0.5, 2, 7, 100)), 4)).encode()


def _changed_bytes(content: bytes, pool: Pool, dice: random.Random) -> bytes:
    """Bytes dropped, repeated, replaced by noise or by a piece of another input."""
    data = bytearray(content)
    for _ in range(dice.choice((1, 1, 2, 3, 6))):
        at = dice.randrange(len(data) + 1)
        way = dice.randrange(7)
        if way == 0:
            del data[at : at + dice.choice((1, 2, 8, 60))]
        elif way == 1:
            data[at:at] = dice.choice(NOISE).encode("utf-8", "replace")
        elif way == 2:
            piece = bytes(data[at : at + dice.choice((4, 40, 400))])
            data[at:at] = piece * dice.choice((1, 1, 2, 40))
        elif way == 3 and data:
            data[min(at, len(data) - 1)] = dice.randrange(256)
        elif way == 4:
            other = pool.pick(dice)
            start = dice.randrange(len(other) + 1)
            data[at:at] = other[start : start + dice.choice((10, 100, 400))]
        else:
            spots = [m.span() for m in NUMBER.finditer(data)]
            if spots:
                first, last = dice.choice(spots)
                data[first:last] = dice.choice([*NOISE, "7", "0.5", "40", "2000", "-20"]).encode(
                    "utf-8", "replace")
    return bytes(data[:MOST_BYTES])


def _spots(document: Any) -> list[tuple[Any, Any]]:
    """Every place of a JSON document: what holds it, and its key or index there."""
    spots: list[tuple[Any, Any]] = []
    todo = [document]
    while todo:
        node = todo.pop()
        for key, value in node.items() if isinstance(node, dict) else enumerate(node):
            spots.append((node, key))
            if isinstance(value, dict | list):
                todo.append(value)
    return spots


def _changed_json(content: bytes, pool: Pool, dice: random.Random) -> bytes:
    """A JSON document with values changed, taken from elsewhere, dropped, repeated or nonsense."""
    try:
        document = json.loads(content)
        for _ in range(dice.choice((1, 2, 4))):
            spots = _spots(document)
            if not spots:
                break
            _change_spot(*dice.choice(spots), pool, dice)
        return json.dumps(document).encode()[:MOST_BYTES]
    except (ValueError, RecursionError):
        return content


def _change_spot(node: Any, key: Any, pool: Pool, dice: random.Random) -> None:
    value, way = node[key], dice.random()
    if isinstance(value, int | float) and abs(value) < 1e9 and way < 0.6:
        node[key] = value * dice.choice((0, -1, 0.01, 0.5, 2, 7, 100))
    elif way < 0.75 and isinstance(key, str):
        node[key] = json.loads(json.dumps(dice.choice(pool.values.get(key) or NONSENSE)))
    elif way < 0.82:
        del node[key]
    elif way < 0.9 and isinstance(node, list):
        node.insert(key, json.loads(json.dumps(value)))
    elif way < 0.95:
        node[key] = json.loads(json.dumps(dice.choice(pool.values[dice.choice(list(pool.values))])))
    else:
        node[key] = dice.choice(NONSENSE)
