"""Contrast of a label with what it stands on."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from mektel.core.colour import contrast, hex_of, over
from mektel.core.kit import Control, Kit, parse_flags, shown_states
from mektel.core.look import Gradient, GroupLook, LabelLook, Look, Margins, resolve
from mektel.core.paint.cost import CostError
from mektel.core.paint.render import render

# WCAG 2.2: large text is 24 px, or bold from 18.66 px.
LARGE, LARGE_BOLD, BOLD = 24.0, 18.66, 700


@dataclass(frozen=True)
class LabelContrast:
    """``ratio`` is the lowest over the label's area, ``needed`` the WCAG 2.2 AA threshold.

    ``layer`` is the control's own layer that the text is in or embedded by, ``ink`` the colour of
    the text that is read worst, ``grounds`` the opaque colours behind it that were tried, the
    worst first.
    """

    ratio: float
    needed: float
    layer: str
    ink: str
    grounds: tuple[str, ...]

    @property
    def ground(self) -> str:
        return self.grounds[0]

    @property
    def shown(self) -> str:
        """The ratio cut to one decimal, so that 4.49 does not read as 4.5."""
        return f"{int(self.ratio * 10) / 10:.1f}"

    @property
    def passes(self) -> bool:
        return self.ratio >= self.needed


def label_contrast(look: Look, backdrop: tuple[float, float, float, float]) -> LabelContrast | None:
    """Contrast of the weakest label with the pixels behind it, or None without a label.

    The darkest, lightest and middle of what lies behind the label's box are tried and the worst
    counts, so that a gradient face is judged where it is weakest.
    """
    contrasts = [measured for owner, label, below in _labels(look.layers)
                 if (measured := _contrast(look, owner, label, below, backdrop)) is not None]
    return min(contrasts, key=lambda measured: measured.ratio / measured.needed, default=None)


def state_contrasts(
    kit: Kit, control: Control, backdrop: tuple[float, float, float, float]
) -> dict[str, LabelContrast]:
    """:func:`label_contrast` of every state that has a label; disabled ones are exempt (WCAG 2.2).

    A state that is too dear to draw is left out: a finding says so.
    """
    contrasts = {}
    for state in shown_states(control.behaviour):
        if "disabled" in state:
            continue
        with contextlib.suppress(CostError):
            contrast = label_contrast(resolve(kit, control, parse_flags(state)), backdrop)
            if contrast is not None:
                contrasts[state] = contrast
    return contrasts


def _labels(
    layers: tuple[Any, ...], owner: str = ""
) -> Iterator[tuple[str, LabelLook, tuple[Any, ...]]]:
    """Every line of text with the layer it belongs to and what is drawn before it."""
    for at, layer in enumerate(layers):
        members = layer.members if isinstance(layer, GroupLook) else (layer,)
        if not isinstance(layer, GroupLook) or all(
            isinstance(member, LabelLook) for member in members
        ):
            yield from (
                (owner or layer.id, member, layers[:at])
                for member in members
                if isinstance(member, LabelLook)
                and member.text
                and not member.sigma
                and not member.swell
            )
            continue
        for owned_by, label, before in _labels(members, owner or layer.id):
            group = (replace(layer, members=before),) if before else ()
            yield owned_by, label, (*layers[:at], *group)


def _contrast(
    look: Look,
    owner: str,
    label: LabelLook,
    below: tuple[Any, ...],
    backdrop: tuple[float, float, float, float],
) -> LabelContrast | None:
    if isinstance(label.paint, Gradient):
        inks = [colour for _, colour in label.paint.stops]
    else:
        inks = [label.paint]
    picture = render(replace(look, layers=below), 1.0, Margins())
    x0, y0, x1, y1 = label.extent()
    height, width = picture.rgba.shape[:2]
    rows = slice(max(0, int(y0)), min(height, int(np.ceil(y1))))
    columns = slice(max(0, int(x0)), min(width, int(np.ceil(x1))))
    behind = picture.rgba[rows, columns].reshape(-1, 4).astype(float) / 255
    if not len(behind):
        return None
    order = behind[:, :3].sum(axis=1).argsort()
    tried = []
    for spot in (order[0], order[len(order) // 2], order[-1]):
        red, green, blue, alpha = (float(value) for value in behind[spot])
        straight = tuple(c / alpha if alpha else 0.0 for c in (red, green, blue))
        ground = over((*straight, alpha), backdrop)
        tried += [(contrast(over(ink, ground), ground), ground, ink) for ink in inks]
    tried.sort(key=lambda trial: trial[0])
    bold = label.weight >= BOLD and label.size >= LARGE_BOLD
    needed = 3.0 if label.size >= LARGE or bold else 4.5
    grounds = dict.fromkeys(hex_of(ground[:3]) for _, ground, _ in tried)
    return LabelContrast(tried[0][0], needed, owner, hex_of(tried[0][2]), tuple(grounds))
