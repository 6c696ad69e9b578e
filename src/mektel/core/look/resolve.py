"""Resolving: palette links, states and forms are looked up once; what is left is numbers."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.kit import (
    OUTLINE,
    Control,
    ControlOutline,
    Kit,
    designed_states,
    parse_flags,
)
from mektel.core.look.holding import MARK
from mektel.core.look.layout import natural
from mektel.core.look.limits import Refused, check_outline, check_size
from mektel.core.look.look import LayerLook, Look, Margins
from mektel.core.look.outlines import body_outline
from mektel.core.look.parts import Scene, as_one, layer_looks
from mektel.core.look.settle import NOTHING, settle
from mektel.core.remember import Remembered


def resolve(
    kit: Kit,
    control: Control,
    flags: Iterable[str] = (),
    size: tuple[float, float] | None = None,
    text: str | None = None,
    arguments: Mapping[str, Any] = NOTHING,
) -> Look:
    """The look of a control with the given states holding, at ``size`` (width, height) in px.

    ``arguments`` are values for its parameters; the others have their defaults. Raises
    :class:`mektel.core.kit.ArgumentError` for an argument that no parameter takes.
    """
    control = settle(kit, control, size, arguments, text=text).control
    held, box = frozenset(flags), size or control.size
    return _looks.get(
        (kit.palette, kit.assets, control), (held, box, text),
        lambda: _resolve(kit, control, held, box, text),
    )


_looks = Remembered(1024)
_rooms = Remembered()


def _resolve(
    kit: Kit, control: Control, held: frozenset[str], size: tuple[float, float],
    text: str | None,
) -> Look:
    width, height = size
    body: ControlOutline = control.part_in(OUTLINE, held)
    refused: list[Refused] = []
    with _leaving_out(OUTLINE, refused):
        box = body_outline(body, width, height, control.size)
        check_outline(box)
    if refused:
        box = body_outline(ControlOutline(offset=body.offset), width, height, control.size)
    parts = [control.part_in(layer.id, held) for layer in control.layers]
    shown: list[Any] = []
    hidden: tuple[str, ...] = ()
    for part in parts:
        if part.id.startswith(hidden) and hidden:
            continue
        if part.visible and part.opacity > 0:
            shown.append(part)
        elif part.kind == "look":
            hidden = (*hidden, part.id + MARK)
    words = control.text if text is None else text
    def looks(start: int, end: int) -> list[LayerLook]:
        found: list[LayerLook] = []
        at = start
        while at < end:
            part = shown[at]
            scene = Scene(kit, body, box, words, shown[at + 1 :])
            at += 1
            if part.kind == "look":
                after = at
                while after < end and shown[after].id.startswith(part.id + MARK):
                    after += 1
                members = looks(at, after)
                with _leaving_out(part.id, refused):
                    found += _of_size(as_one(scene, part, members))
                at = after
                continue
            with _leaving_out(part.id, refused):
                if (look := layer_looks(scene, part)) is not None:
                    found += _of_size([look])
        return found

    layers = tuple(looks(0, len(shown)))
    return Look(width, height, box, layers, body.opacity, tuple(refused))


@contextlib.contextmanager
def _leaving_out(part_id: str, refused: list[Refused]) -> Iterator[None]:
    """What cannot be drawn is left out and named; the rest of the look stands."""
    try:
        yield
    except MektelError as error:
        refused.append(Refused(part_id, str(error)))
    except Exception as error:
        refused.append(Refused(
            part_id, f"its values give nothing that can be drawn ({type(error).__name__})"))


def _of_size(looks: list[Any]) -> list[Any]:
    for one in looks:
        check_size(one)
    return looks


def shared_margins(
    kit: Kit,
    control: Control,
    size: tuple[float, float] | None = None,
    text: str | None = None,
    arguments: Mapping[str, Any] = NOTHING,
) -> Margins:
    """Room that suffices for every state, so that all pictures of a control have equal bounds."""
    control = settle(kit, control, size, arguments, text=text).control
    box = size or control.size
    return _rooms.get(
        (kit.palette, kit.assets, control), (box, text),
        lambda: _shared_margins(kit, control, box, text),
    )


def _shared_margins(
    kit: Kit, control: Control, size: tuple[float, float], text: str | None
) -> Margins:
    margins = Margins()
    sets = [parse_flags(state) for state in designed_states(control.behaviour, control.states)]
    for flags in [*sets, frozenset({"hover", "pressed"})]:
        margins = margins.union(resolve(kit, control, flags, size, text).margins())
    return margins


def natural_size(
    control: Control, text: str | None = None, kit: Kit | None = None,
    arguments: Mapping[str, Any] = NOTHING,
) -> tuple[float, float]:
    """The control's own size, or larger where its text with padding needs it, in px."""
    if kit is not None:
        control = settle(kit, control, None, arguments, text=text).control
    return natural(control, control.text if text is None else text)
