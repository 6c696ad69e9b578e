"""Contrast of a label with what it stands on."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from mektel.core.colour import contrast, over
from mektel.core.kit import Control, Kit, parse_flags, shown_states
from mektel.core.look import Gradient, GroupLook, LabelLook, Look, Margins, resolve
from mektel.core.paint.cost import CostError
from mektel.core.paint.render import render

# WCAG 2.2: large text is 24 px, or bold from 18.66 px.
LARGE, LARGE_BOLD, BOLD = 24.0, 18.66, 700


@dataclass(frozen=True)
class LabelContrast:
    """``ratio`` is the lowest over the label's area, ``needed`` the WCAG 2.2 AA threshold."""

    ratio: float
    needed: float

    @property
    def passes(self) -> bool:
        return self.ratio >= self.needed


def label_contrast(look: Look, backdrop: tuple[float, float, float, float]) -> LabelContrast | None:
    """Contrast of the weakest label with the pixels behind it, or None without a label.

    The darkest, lightest and middle of what lies behind the label's box are tried and the worst
    counts, so that a gradient face is judged where it is weakest.
    """
    contrasts = [measured for label, below in _labels(look.layers)
             if (measured := _contrast(look, label, below, backdrop)) is not None]
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


def _labels(layers: tuple[Any, ...]) -> Iterator[tuple[LabelLook, tuple[Any, ...]]]:
    """Every line of text with what is drawn before it."""
    for at, layer in enumerate(layers):
        members = layer.members if isinstance(layer, GroupLook) else (layer,)
        if not isinstance(layer, GroupLook) or all(
            isinstance(member, LabelLook) for member in members
        ):
            yield from (
                (member, layers[:at])
                for member in members
                if isinstance(member, LabelLook)
                and member.text
                and not member.sigma
                and not member.swell
            )
            continue
        for label, before in _labels(members):
            group = (replace(layer, members=before),) if before else ()
            yield label, (*layers[:at], *group)


def _contrast(
    look: Look,
    label: LabelLook,
    below: tuple[Any, ...],
    backdrop: tuple[float, float, float, float],
) -> LabelContrast | None:
    if isinstance(label.paint, Gradient):
        colours = [colour for _, colour in label.paint.stops]
    else:
        colours = [label.paint]
    picture = render(replace(look, layers=below), 1.0, Margins())
    x0, y0, x1, y1 = label.extent()
    height, width = picture.rgba.shape[:2]
    rows = slice(max(0, int(y0)), min(height, int(np.ceil(y1))))
    columns = slice(max(0, int(x0)), min(width, int(np.ceil(x1))))
    behind = picture.rgba[rows, columns].reshape(-1, 4).astype(float) / 255
    if not len(behind):
        return None
    order = behind[:, :3].sum(axis=1).argsort()
    ratios = []
    for spot in (order[0], order[len(order) // 2], order[-1]):
        red, green, blue, alpha = (float(value) for value in behind[spot])
        straight = tuple(c / alpha if alpha else 0.0 for c in (red, green, blue))
        ground = over((*straight, alpha), backdrop)
        ratios += [contrast(over(colour, ground), ground) for colour in colours]
    bold = label.weight >= BOLD and label.size >= LARGE_BOLD
    needed = 3.0 if label.size >= LARGE or bold else 4.5
    return LabelContrast(min(ratios), needed)
