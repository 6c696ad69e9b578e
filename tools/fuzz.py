"""Tries the readers with broken and hostile input: nothing may come out but a result or a clear
error.

Run: .venv/bin/python tools/fuzz.py [COUNT] [--kind css] [--seed 1] [--keep FOLDER]

Inputs are the examples, the samples and ``tests/faults``, changed at random. Each is read, put into
a kit, drawn, written and read again, within ``SECONDS`` and ``MEMORY``. What fails is kept.
"""

from __future__ import annotations

import argparse
import contextlib
import hashlib
import json
import multiprocessing
import random
import re
import resource
import signal
import sys
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.kit import Kit, shown_states
from mektel.core.kit.edit import add_control, add_layer, set_value
from mektel.core.kit.moving import add_asset, layer_to_text, paste_layer
from mektel.core.look import parse_flags, resolve, shared_margins
from mektel.core.paint import CostError, render
from mektel.core.proof import findings
from mektel.formats.css import control_from_css
from mektel.formats.kitfile import kit_from_text, kit_to_text, read_kit
from mektel.formats.svg import import_svg
from mektel.formats.tokens import tokens_from_text, tokens_to_text, with_tokens
from mektel.samples import DEMO, starter_files

ROOT = Path(__file__).resolve().parents[1]
FAULTS = ROOT / "tests" / "faults"
SECONDS, MEMORY = 10, 4 * 2**30
MOST_DRAWN = 2
NOISE = ["", "0", "-1", "1e9", "1e400", "NaN", "null", "true", "[]", "{}", '"', "'", "\\", "\x00",
         "\ud800".encode("utf-8", "surrogatepass").decode("utf-8", "replace"), "é", "🜁", "‮",
         "calc(1 + 2)", "var(--a)", "url(#a)", "matrix(1 2 3)", "999999999", "0.00001", "${x}", "`",
         "inherit", "50%", "1turn", "-", "+", ",", "(", ")", "<", ">", "&", ";", "}", "{"]


class SlowError(Exception):
    """An input took longer than ``SECONDS``."""


def attempt(kind: str, content: bytes) -> str:
    """What became of an input: ``read`` or ``refused: why``. Anything else raises."""
    try:
        READERS[kind](content)
    except MektelError as error:
        words = str(error)
        if re.search(r"0x[0-9a-f]{6}|errors\.pydantic|larger than 0 MB|Traceback", words):
            raise AssertionError(f"an error that speaks of the inside: {words[:200]}") from error
        return f"refused: {words}"
    return "read"


def _next_step() -> None:
    """Every step has ``SECONDS`` of its own, where there is a clock at all."""
    if signal.alarm(0):
        signal.alarm(SECONDS)


def _use(kit: Kit, last: bool = False) -> None:
    """Finds, draws, writes and reads again; what was written must be the same kit."""
    _next_step()
    findings(kit)
    for control in kit.controls[-1:] if last else kit.controls[:MOST_DRAWN]:
        margins = shared_margins(kit, control)
        for state in shown_states(control.kind)[:2]:
            _next_step()
            with contextlib.suppress(CostError):
                render(resolve(kit, control, parse_flags(state)), 1.0, margins)
    _next_step()
    again = kit_from_text(kit_to_text(kit))
    if kit_to_text(again) != kit_to_text(kit) or again != kit:
        raise AssertionError("written and read again it differs")


def _css(content: bytes) -> None:
    control, _, palette = control_from_css(content.decode("utf-8", "replace"), "sheet.css")
    _use(add_control(Kit(), control, palette))


def _svg(content: bytes) -> None:
    control, _ = import_svg(content, "Drawing", "drawing.svg")
    _use(add_control(Kit(), control))


def _tokens(content: bytes) -> None:
    kit = with_tokens(Kit(), tokens_from_text(content.decode("utf-8", "replace"), "tokens.json"))
    _use(kit)
    text = tokens_to_text(kit)
    again = with_tokens(Kit(), tokens_from_text(text, "again"))
    if tokens_to_text(again) != text:
        raise AssertionError("tokens written and read again differ")


def _kit(content: bytes) -> None:
    _use(kit_from_text(content.decode("utf-8", "replace"), "kit.mektel"))


def _layer(content: bytes) -> None:
    kit = _demo()
    _use(paste_layer(kit, kit.controls[0].id, content.decode("utf-8", "replace"), None), last=False)


def _png(content: bytes) -> None:
    kit, asset = add_asset(_demo(), "Picture", content)
    kit = add_layer(kit, "board", "picture", "Picture")
    _use(set_value(kit, "board", "rest", "picture", "asset", asset))


READERS: dict[str, Callable[[bytes], None]] = {
    "css": _css, "svg": _svg, "tokens": _tokens, "kit": _kit, "layer": _layer, "png": _png,
}


def _demo() -> Kit:
    """The demo kit's first controls: enough to paste into, quick to draw."""
    kit = read_kit(DEMO)
    return kit.model_copy(update={"controls": tuple(
        one for one in kit.controls if one.base is None)[:2]})


def kind_of(name: str) -> str:
    """What a file of ``tests/faults`` is tried as."""
    word = re.match(r"[a-z]+", name)
    return word[0] if word and word[0] in READERS else "kit"


def seeds() -> dict[str, list[bytes]]:
    found: dict[str, list[bytes]] = {kind: [] for kind in READERS}
    examples = ROOT / "examples"
    for path in sorted(examples.rglob("*")):
        kind = {".css": "css", ".svg": "svg", ".json": "tokens", ".png": "png"}.get(path.suffix)
        if kind:
            found[kind].append(path.read_bytes())
    kits = [read_kit(path) for path in starter_files().values()]
    found["kit"] += [kit_to_text(kit).encode() for kit in kits]
    demo = read_kit(DEMO)
    for at, control in enumerate(demo.controls):
        alone = demo.model_copy(update={"controls": (control.model_copy(update={"base": None}),)})
        found["kit"].append(kit_to_text(alone).encode())
        found["layer"] += [layer_to_text(demo, control.id, layer.id).encode()
                           for layer in control.layers[:3 if at % 2 else 9]]
    found["tokens"].append(tokens_to_text(demo).encode())
    for path in sorted(FAULTS.iterdir()):
        if path.suffix != ".py":
            found[kind_of(path.name)].append(path.read_bytes())
    return found


def changed(content: bytes, others: list[bytes], dice: random.Random) -> bytes:
    """An input with a few things changed: letters, numbers, words, values, pieces of another."""
    data = bytearray(content)
    if dice.random() < 0.8 and content.lstrip()[:1] == b"{":
        return _changed_json(content, dice)
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
            other = dice.choice(others)
            start = dice.randrange(len(other) + 1)
            data[at:at] = other[start : start + dice.choice((10, 100, 400))]
        else:
            spots = [m.span() for m in re.finditer(rb"-?\d+(?:\.\d+)?", data)]
            if spots:
                first, last = dice.choice(spots)
                data[first:last] = dice.choice([*NOISE, "7", "0.5", "40", "2000", "-20"]).encode(
                    "utf-8", "replace")
    return bytes(data[: 2 * 2**20])


def _changed_json(content: bytes, dice: random.Random) -> bytes:
    """One value of a JSON document put in another's place, dropped, or turned into nonsense."""
    try:
        document = json.loads(content)
    except ValueError:
        return content
    spots: list[tuple[Any, Any]] = []
    todo = [document]
    while todo:
        node = todo.pop()
        entries = node.items() if isinstance(node, dict) else enumerate(node)
        for key, value in list(entries):
            spots.append((node, key))
            if isinstance(value, dict | list):
                todo.append(value)
    for _ in range(dice.choice((1, 2, 4))):
        node, key = dice.choice(spots)
        value = node[key]
        if isinstance(value, int | float) and abs(value) < 1e9 and dice.random() < 0.8:
            node[key] = value * dice.choice((0, -1, 0.01, 0.5, 2, 7, 100))
        elif dice.random() < 0.4:
            other, name = dice.choice(spots)
            try:
                node[key] = json.loads(json.dumps(other[name]))
            except (KeyError, IndexError, ValueError, RecursionError):
                continue
        else:
            node[key] = dice.choice([None, True, -1, 0, 1e9, 1e-9, "", "#FFFFFF", [], {}, [1, 2],
                                     "rest", "hover", "x" * 300, "\ud800", 2000, 0.5, -20])
    try:
        return json.dumps(document).encode()
    except RecursionError:
        return content


def _alarm(_number: int, _frame: object) -> None:
    raise SlowError


def _work(kinds: list[str], count: int, seed: int, out: Any) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    signal.signal(signal.SIGALRM, _alarm)
    dice = random.Random(seed)
    pool = seeds()
    for _ in range(count):
        kind = dice.choice(kinds)
        content = changed(dice.choice(pool[kind]), pool[kind], dice)
        began = time.monotonic()
        out.send(("try", kind, content))
        signal.alarm(SECONDS)
        try:
            result, trace = attempt(kind, content).split(":")[0], ""
        except BaseException as error:
            result, trace = f"{type(error).__name__}", traceback.format_exc()
        finally:
            signal.alarm(0)
        out.send(("done", kind, result, time.monotonic() - began, content, trace))
    out.send(("end",))


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("count", type=int, nargs="?", default=1000)
    words.add_argument("--kind", action="append", choices=list(READERS))
    words.add_argument("--seed", type=int, default=int(time.time()))
    words.add_argument("--keep", type=Path)
    asked = words.parse_args()
    kinds = asked.kind or list(READERS)
    results: Counter[tuple[str, str]] = Counter()
    places: Counter[str] = Counter()
    slowest, left, seed = 0.0, asked.count, asked.seed
    while left > 0:
        ours, theirs = multiprocessing.Pipe()
        process = multiprocessing.Process(target=_work, args=(kinds, left, seed, theirs))
        process.start()
        last: tuple[str, bytes] = ("", b"")
        while True:
            if not ours.poll(SECONDS * 3 if last[0] else 120) or not process.is_alive():
                if ours.poll(0):
                    pass
                else:
                    process.kill()
                    _tell(results, places, last[0], "no answer", last[1], "", asked.keep)
                    left -= 1
                    break
            told = ours.recv()
            if told[0] == "try":
                last = told[1:]
            elif told[0] == "done":
                _, kind, result, took, content, trace = told
                slowest = max(slowest, took)
                left -= 1
                _tell(results, places, kind, result, content, trace, asked.keep)
            else:
                left = 0
                break
        process.join(5)
        seed += 1
    print(f"seed {asked.seed}, slowest {slowest:.1f} s")
    for (kind, result), count in sorted(results.items()):
        print(f"{kind:<7} {result:<24} {count}")
    for place, count in places.most_common(60):
        print(f"{count:6d}  {place}")
    sys.exit(1 if places else 0)


def _tell(
    results: Counter[tuple[str, str]], places: Counter[str], kind: str, result: str,
    content: bytes, trace: str, keep: Path | None,
) -> None:
    results[kind, result] += 1
    if result in ("read", "refused"):
        return
    frames = re.findall(r'File ".*?/mektel/([^"]+)", line (\d+)', trace)
    place = f"{kind} {result} {':'.join(frames[-1]) if frames else ''} {trace.strip()[-160:]!r}"
    if not places[place] and keep is not None:
        keep.mkdir(parents=True, exist_ok=True)
        name = hashlib.sha256(content).hexdigest()[:10]
        (keep / f"{kind}-{result.replace(' ', '-')}-{name}").write_bytes(content)
    places[place] += 1


if __name__ == "__main__":
    main()
