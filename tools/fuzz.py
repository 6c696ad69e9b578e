"""Tries the readers with broken and hostile input: nothing may come out but a result or a clear
error.

Run: .venv/bin/python tools/fuzz.py [COUNT] [--kind css] [--seed 1] [--keep FOLDER]

Inputs (``fuzz_inputs.py``) are read, put into a kit, resolved in a state, written and read again,
within ``SECONDS`` of processor time and ``MEMORY``; one of ``DEEP`` is looked through by the checks
and drawn, too. What fails is kept.
"""

from __future__ import annotations

import argparse
import contextlib
import functools
import hashlib
import multiprocessing
import random
import re
import resource
import signal
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
sys.path.insert(0, str(Path(__file__).parent))

from fuzz_inputs import KINDS, changed, pools

from mektel.core.errors import MektelError
from mektel.core.kit import Kit, shown_states
from mektel.core.kit.bringing_in import Arrival, with_arrivals
from mektel.core.kit.edit import add_control, add_layer, set_value
from mektel.core.kit.moving import add_asset, paste_layer
from mektel.core.look import look_of, parse_flags, resolve, shared_margins
from mektel.core.motion import motion_of
from mektel.core.paint import CostError, render
from mektel.core.pictures.as_control import arrival_of
from mektel.core.pictures.layout import StatePicture, equal_bounds
from mektel.core.proof import findings
from mektel.formats.css import control_from_css
from mektel.formats.gesture import gesture_from_text, gesture_text
from mektel.formats.kitfile import kit_from_text, kit_to_text, read_kit
from mektel.formats.pictures import cut, load
from mektel.formats.svg import import_svg
from mektel.formats.tokens import tokens_from_text, tokens_to_text, with_tokens
from mektel.samples import DEMO

SECONDS, MEMORY = 10, 4 * 2**30
DEEP = 6
MOST_DRAWN = 2
REPORT = 1000


class SlowError(Exception):
    """A step took longer than ``SECONDS``."""


def attempt(kind: str, content: bytes, deep: bool = True) -> str:
    """What became of an input: ``read`` or ``refused: why``. Anything else raises.

    With ``deep`` the kit is looked through by the checks and drawn.
    """
    try:
        use(READERS[kind](content), deep)
    except MektelError as error:
        message = str(error)
        if re.search(r"0x[0-9a-f]{6}|errors\.pydantic|larger than 0 MB|Traceback", message):
            raise AssertionError(f"an error that speaks of the inside: {message[:200]}") from error
        return f"refused: {message}"
    return "read"


def _next_step() -> None:
    """Every step has ``SECONDS`` of processor time, where there is a clock at all."""
    if signal.setitimer(signal.ITIMER_PROF, 0)[0]:
        signal.setitimer(signal.ITIMER_PROF, SECONDS)


def use(kit: Kit, deep: bool) -> None:
    """Resolves or draws, writes and reads again; what was written must be the same kit."""
    _next_step()
    if deep:
        findings(kit)
    for control in kit.controls[:MOST_DRAWN]:
        for state in shown_states(control.behaviour)[:2]:
            _next_step()
            look = resolve(kit, control, parse_flags(state))
            if deep:
                with contextlib.suppress(CostError):
                    render(look, 1.0, shared_margins(kit, control))
    _next_step()
    again = kit_from_text(kit_to_text(kit))
    if kit_to_text(again) != kit_to_text(kit) or again != kit:
        raise AssertionError("written and read again it differs")


def _css(content: bytes) -> Kit:
    control, _, palette = control_from_css(content.decode("utf-8", "replace"), "sheet.css")
    return add_control(Kit(), control, palette)


def _svg(content: bytes) -> Kit:
    made = import_svg(content, "Drawing", "drawing.svg")
    return with_arrivals(Kit(), [Arrival(made.control, pictures=made.pictures)])


def _tokens(content: bytes) -> Kit:
    kit = with_tokens(Kit(), tokens_from_text(content.decode("utf-8", "replace"), "tokens.json"))
    text = tokens_to_text(kit)
    again = with_tokens(Kit(), tokens_from_text(text, "again"))
    if tokens_to_text(again) != text:
        raise AssertionError("tokens written and read again differ")
    return kit


def _kit(content: bytes) -> Kit:
    return kit_from_text(content.decode("utf-8", "replace"), "kit.mektel")


def _layer(content: bytes) -> Kit:
    kit = _demo()
    return paste_layer(kit, kit.controls[0].id, content.decode("utf-8", "replace"), None)


def _png(content: bytes) -> Kit:
    kit, asset = add_asset(_demo(), "Picture", content)
    kit = add_layer(kit, "board", "picture", "Picture")
    return set_value(kit, "board", "rest", "picture", "picture", asset)


def _picture(content: bytes) -> Kit:
    with tempfile.NamedTemporaryFile(suffix="@2x.png") as file:
        file.write(content)
        file.flush()
        loaded = load(Path(file.name))
    boxes = loaded.regions.boxes[:5]
    pictures = [StatePicture(state, cut(loaded.pixels, box), 2.0, placed=loaded.regions.in_cells)
                for state, box in zip(STATES, boxes, strict=False)]
    arrival, _ = arrival_of(equal_bounds(pictures), "Picture")
    return with_arrivals(Kit(), [arrival])


def _gesture(content: bytes) -> Kit:
    events = gesture_from_text(content.decode("utf-8", "replace"), "hand.json")
    kit = _demo()
    motion = motion_of(kit, kit.controls[0])
    for event in events[:50]:
        motion = motion.after(event)
        look_of(motion.at(event.at + 0.05))
    if gesture_from_text(gesture_text(events), "again") != events:
        raise AssertionError("a gesture written and read again differs")
    return kit


STATES = ("rest", "hover", "pressed", "disabled", "checked+hover")
READERS: dict[str, Callable[[bytes], Kit]] = {
    "css": _css, "svg": _svg, "tokens": _tokens, "kit": _kit, "layer": _layer, "png": _png,
    "picture": _picture, "gesture": _gesture,
}


@functools.cache
def _demo() -> Kit:
    """The demo kit's first controls: enough to paste into, quick to draw."""
    kit = read_kit(DEMO)
    return kit.model_copy(update={"controls": tuple(
        control for control in kit.controls if control.base is None)[:2]})


def _alarm(_number: int, _frame: object) -> None:
    raise SlowError


def _work(kinds: list[str], count: int, seed: int, out: Any) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    signal.signal(signal.SIGPROF, _alarm)
    dice = random.Random(seed)
    sources = pools()
    for at in range(count):
        kind = dice.choice(kinds)
        content = changed(kind, sources[kind], dice)
        began = time.monotonic()
        out.send(("try", kind, content))
        signal.setitimer(signal.ITIMER_PROF, SECONDS)
        try:
            result, trace = attempt(kind, content, at % DEEP == 0).split(":")[0], ""
        except BaseException as error:
            result, trace = type(error).__name__, traceback.format_exc()
        finally:
            signal.setitimer(signal.ITIMER_PROF, 0)
        out.send(("done", kind, result, time.monotonic() - began, content, trace))
    out.send(("end",))


class Report:
    """Counts of what became of the inputs, and the inputs that failed."""

    def __init__(self, keep: Path | None) -> None:
        self.keep = keep
        self.results: Counter[tuple[str, str]] = Counter()
        self.places: Counter[str] = Counter()
        self.slowest = 0.0

    def add(self, kind: str, result: str, took: float, content: bytes, trace: str) -> None:
        """Counts one input; ``took`` is in seconds. The first failure at a place is shown."""
        self.slowest = max(self.slowest, took)
        self.results[kind, result] += 1
        if result not in ("read", "refused"):
            frames = re.findall(r'File ".*?/mektel/([^"]+)", line (\d+)', trace)
            where = ":".join(frames[-1]) if frames else ""
            place = f"{kind} {result} {where} {trace.strip()[-160:]!r}"
            if not self.places[place]:
                print(place, flush=True)
                self._save(f"{kind}-{result}".replace(" ", "-"), content)
            self.places[place] += 1
        if sum(self.results.values()) % REPORT == 0:
            self.show()

    def _save(self, name: str, content: bytes) -> None:
        if self.keep is not None:
            self.keep.mkdir(parents=True, exist_ok=True)
            digest = hashlib.sha256(content).hexdigest()[:10]
            (self.keep / f"{name}-{digest}").write_bytes(content)

    def show(self) -> None:
        read = sum(count for (_, result), count in self.results.items() if result == "read")
        print(f"{sum(self.results.values())} inputs, {read} read, {sum(self.places.values())} "
              f"failed, slowest {self.slowest:.1f} s", flush=True)


def _run(kinds: list[str], left: int, seed: int, report: Report) -> int:
    """Runs inputs in a process of their own and returns how many are left after it has ended."""
    ours, theirs = multiprocessing.Pipe()
    process = multiprocessing.Process(target=_work, args=(kinds, left, seed, theirs))
    process.start()
    theirs.close()
    kind, content = "", b""
    while True:
        try:
            message = ours.recv() if ours.poll(SECONDS * 9 if kind else 120) else None
        except EOFError:
            message = None
        if message is None:
            process.kill()
            report.add(kind, "no answer", SECONDS, content, "")
            left -= 1
            break
        if message[0] == "end":
            break
        if message[0] == "try":
            kind, content = message[1:]
        else:
            report.add(*message[1:])
            left -= 1
    process.join(5)
    return left


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("count", type=int, nargs="?", default=1000)
    parser.add_argument("--kind", action="append", choices=KINDS)
    parser.add_argument("--seed", type=int, default=int(time.time()))
    parser.add_argument("--keep", type=Path)
    options = parser.parse_args()
    report = Report(options.keep)
    left, seed = options.count, options.seed
    while left > 0:
        left, seed = _run(options.kind or list(KINDS), left, seed, report), seed + 1
    print(f"seed {options.seed}")
    for (kind, result), count in sorted(report.results.items()):
        print(f"{kind:<7} {result:<24} {count}")
    report.show()
    sys.exit(1 if report.places else 0)


if __name__ == "__main__":
    main()
