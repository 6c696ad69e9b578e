"""Poses as looks: palette links, forms and places are looked up once; what is left is numbers."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.kit import CONTROL, OUTLINE, Control, ControlOutline, Kit
from mektel.core.look.content_layout import natural
from mektel.core.look.limits import Refused, check_outline, check_size
from mektel.core.look.look import GroupLook, LayerLook, Look, Margins
from mektel.core.look.outlines import control_outline
from mektel.core.look.pose import Pose, PosedLayer, distinct_sets, pose_of
from mektel.core.look.primitives import group_of, layer_look
from mektel.core.look.scene import Scene
from mektel.core.look.settle import NOTHING, Settled, settle
from mektel.core.remember import Remembered

_looks = Remembered(256)
_margins = Remembered(256)


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
    settled = settle(kit, control, size, arguments, text=text)
    return look_of(pose_of(kit, settled, frozenset(flags), size, text))


def look_of(pose: Pose) -> Look:
    """What a pose is drawn as."""
    return _looks.get((pose,), (), lambda: _look_of(pose))


def outline_of(pose: Pose) -> Any:
    """The control's outline in a pose; a plain box where it cannot be drawn."""
    return look_of(pose).outline


def _look_of(pose: Pose) -> Look:
    (width, height), outline = pose.size, pose.outline
    refused: list[Refused] = []
    with _leaving_out(OUTLINE, refused):
        box = control_outline(pose.form or outline, width, height, pose.designed)
        check_outline(box)
    if refused:
        box = control_outline(
            ControlOutline(offset=outline.offset), width, height, pose.designed)

    layers = tuple(_layer_looks(pose, box, pose.layers, refused))
    if pose.matrix is not None:
        layers = (GroupLook(CONTROL, layers, 1.0, pose.matrix),) if layers else ()
    return Look(width, height, box, layers, outline.opacity, tuple(refused))


# No closure: one that calls itself is garbage that keeps the pose until Python looks for cycles.
def _layer_looks(
    pose: Pose, box: Any, layers: tuple[PosedLayer, ...], refused: list[Refused], top: str = "",
) -> list[LayerLook]:
    """The layers that show, ``top`` the layer of the control that they belong to."""
    drawn: list[LayerLook] = []
    shown = [layer for layer in layers if layer.values.visible and layer.values.opacity > 0]
    for at, layer in enumerate(shown):
        scene = Scene(pose, box, [other.values for other in shown[at + 1 :]])
        name = top or layer.values.id
        made: Any = None
        with _leaving_out(name, refused):
            if layer.values.kind == "look":
                members = _layer_looks(pose, box, layer.members, refused, name)
                made = group_of(scene, layer.values, members)
            else:
                made = layer_look(scene, layer.values)
            if made is not None:
                check_size(made)
                drawn.append(made)
    return drawn


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


def shared_margins(
    kit: Kit,
    control: Control,
    size: tuple[float, float] | None = None,
    text: str | None = None,
    arguments: Mapping[str, Any] = NOTHING,
) -> Margins:
    """Room that suffices for every set of states that can hold at once, so that all pictures of a
    control have equal bounds.
    """
    settled = settle(kit, control, size, arguments, text=text)
    box = size or settled.control.size
    return _margins.get(
        (kit.palette, kit.assets, settled.control), (box, text),
        lambda: margins_of(kit, settled, box, text))


def margins_of(
    kit: Kit, settled: Settled, size: tuple[float, float], text: str | None = None
) -> Margins:
    """:func:`shared_margins` of what is settled already."""
    margins = Margins()
    for flags in dict.fromkeys(distinct_sets(settled).values()):
        margins = margins.union(look_of(pose_of(kit, settled, flags, size, text)).margins())
    return margins


def natural_size(
    control: Control, text: str | None = None, kit: Kit | None = None,
    arguments: Mapping[str, Any] = NOTHING,
) -> tuple[float, float]:
    """The control's own size, or larger where its text with padding needs it, in px."""
    if kit is not None:
        control = settle(kit, control, None, arguments, text=text).control
    return natural(control, control.text if text is None else text)
