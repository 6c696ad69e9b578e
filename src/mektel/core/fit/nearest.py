"""The geometry in which least of a picture is left: robust least squares, step by step.

Levenberg (1944) and Marquardt (1963), with the residuals reweighted for the loss 2 (√(1 + r²) - 1).
"""

from __future__ import annotations

import numpy as np

from mektel.core.fit.masks import Geometry, Mask
from mektel.core.fit.model import Floats, Parts, Picture, Solved, judged
from mektel.core.stopping import check_wanted

# A residual beyond this, of 255, counts less and less.
ROBUST = 4.0
# By how much a value is moved to see what that changes, in pixels or degrees.
STEP = 0.05
# Without any blur a little more of it changes nothing: it is looked at with this much.
SOFT = 1.0
# When so little is won, as a share, or every value moves by less than this, it is near enough.
ENOUGH, STILL = 1e-4, 2e-3
# The first damping, what it is divided and multiplied by, and how often a step is tried.
DAMPING, EASIER, HARDER, TRIES = 1e-3, 5.0, 8.0, 4
# For so many steps the changes are only brought up to date by what the step has shown, while a step
# wins so much, as a share.
UPDATES, SLOW = 1, 0.02


def nearest(
    picture: Picture, geometry: Geometry, parts: Parts, limits: dict[str, tuple[float, float]],
    most: int,
) -> Geometry:
    """After at most so many steps; only the values of ``limits`` move, within these."""
    names = tuple(limits)
    blurs = np.array([name.endswith("blur") for name in names])
    low, high = (np.array([limits[name][side] for name in names]) for side in (0, 1))
    values = np.clip([getattr(geometry, name) for name in names], low, high)
    weights = np.sqrt(picture.weights) * np.float32(255 / ROBUST)

    def at(values: Floats) -> Geometry:
        return geometry.moved(**dict(zip(names, map(float, values), strict=True)))

    def left(values: Floats) -> tuple[Solved, Mask, float]:
        check_wanted()
        solved = picture.solve(at(values), parts)
        off = (solved.off * weights).reshape(-1)
        return solved, off, float((np.sqrt(1 + off * off) - 1).sum(dtype=float))

    def changes_at(solved: Solved, values: Floats) -> Mask:
        """How what is left changes with each value."""
        steps = np.where(values + STEP > high, -STEP, STEP)
        steps[blurs] = np.maximum(STEP, SOFT - values[blurs])
        changes = picture.changes(solved, parts, [
            (at(values + step * (np.arange(len(names)) == n)), float(step))
            for n, step in enumerate(steps)])
        return (weights * judged(changes)).reshape(len(names), -1)

    solved, off, cost = left(values)
    damping, changes, updates = DAMPING, changes_at(solved, values), 0
    for _ in range(most):
        counted = changes / np.sqrt(1 + off * off)
        normal = (counted @ changes.T).astype(float)
        downhill = -(counted @ off).astype(float)
        # A value at its limit stays there if it would go beyond.
        free = ~(((values <= low) & (downhill < 0)) | ((values >= high) & (downhill > 0)))
        if not free.any():
            break
        won = moved = 0.0
        for _ in range(1 if updates else TRIES):
            system = normal[np.ix_(free, free)]
            system = system + np.diag(damping * np.diag(system) + 1e-9)
            there = values.copy()
            there[free] += np.linalg.solve(system, downhill[free])
            there = np.clip(there, low, high)
            solved_there, off_there, cost_there = left(there)
            if cost_there < cost:
                step, answer = there - values, off_there - off
                won, moved = (cost - cost_there) / cost, float(np.abs(step).max())
                values, solved, off, cost = there, solved_there, off_there, cost_there
                damping /= EASIER
                break
            damping *= HARDER
        near = won < ENOUGH or moved < STILL
        if not near and won > SLOW and updates < UPDATES:
            changes += updated(changes, np.diag(normal), step, answer)
            updates += 1
        elif near and not updates:
            break
        else:
            changes, updates = changes_at(solved, values), 0
    return at(values)


def updated(changes: Mask, scale: Floats, step: Floats, answer: Mask) -> Mask:
    """What is to be added to the changes (values, residuals) so that they give the ``answer`` of a
    ``step``, each value taking the part that its ``scale`` gives it (Broyden 1965).
    """
    part = scale * step / max(float((scale * step * step).sum()), 1e-12)
    return np.outer(part, answer - step @ changes).astype(np.float32)
