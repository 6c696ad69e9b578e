"""Resolving: palette links, states and forms are looked up once; what is left is numbers."""

from __future__ import annotations

from collections.abc import Iterable

from mektel.core.errors import NotFoundError
from mektel.core.kit import BODY, REST, SHOWN_STATES, STATES, Body, Control, Kit, Label
from mektel.core.look.look import Look, Margins
from mektel.core.look.outlines import body_outline
from mektel.core.look.parts import Scene, layer_looks
from mektel.core.look.words import label_size
from mektel.core.remember import Remembered


def parse_flags(text: str) -> frozenset[str]:
    """``"hover+pressed"`` as a set of states; ``"rest"`` is the empty set.

    >>> sorted(parse_flags("pressed + hover"))
    ['hover', 'pressed']
    """
    flags = {word.strip() for word in text.split("+")} - {REST}
    for flag in flags:
        if flag not in STATES:
            raise NotFoundError("state", flag, list(SHOWN_STATES))
    return frozenset(flags)


def resolve(
    kit: Kit,
    control: Control,
    flags: Iterable[str] = (),
    size: tuple[float, float] | None = None,
    text: str | None = None,
) -> Look:
    """The look of a control with the given states holding, at ``size`` (width, height) in px."""
    held, box = frozenset(flags), size or control.size
    return _looks.get(
        (kit.palette, kit.assets, control), (held, box, text),
        lambda: _resolve(kit, control, held, box, text),
    )


_looks = Remembered()
_rooms = Remembered()


def _resolve(
    kit: Kit, control: Control, held: frozenset[str], size: tuple[float, float],
    text: str | None,
) -> Look:
    width, height = size
    body: Body = control.part_in(BODY, held)
    box = body_outline(body, width, height, control.size)
    parts = [control.part_in(layer.id, held) for layer in control.layers]
    shown = [part for part in parts if part.visible and part.opacity > 0]
    words = control.text if text is None else text
    found = []
    for at, part in enumerate(shown):
        scene = Scene(kit, body, box, words, shown[at + 1 :])
        look = layer_looks(scene, part)
        if look is not None:
            found.append(look)
    return Look(width, height, box, tuple(found), body.opacity)


def shared_margins(
    kit: Kit,
    control: Control,
    size: tuple[float, float] | None = None,
    text: str | None = None,
) -> Margins:
    """Room that suffices for every state, so that all pictures of a control have equal bounds."""
    box = size or control.size
    return _rooms.get(
        (kit.palette, kit.assets, control), (box, text),
        lambda: _shared_margins(kit, control, box, text),
    )


def _shared_margins(
    kit: Kit, control: Control, size: tuple[float, float], text: str | None
) -> Margins:
    margins = Margins()
    for state in SHOWN_STATES:
        flags = parse_flags(state)
        margins = margins.union(resolve(kit, control, flags, size, text).margins())
    pressed = resolve(kit, control, {"hover", "pressed"}, size, text)
    return margins.union(pressed.margins())


def natural_size(control: Control, text: str | None = None) -> tuple[float, float]:
    """The control's own size, or larger where its text with padding needs it, in px."""
    width, height = control.size
    words = control.text if text is None else text
    for layer in control.layers:
        if isinstance(layer, Label) and layer.flow == "one-line":
            across, down = label_size(layer, words)
            width = max(width, across + 2 * control.body.padding[0])
            height = max(height, down + 2 * control.body.padding[1])
    return width, height
