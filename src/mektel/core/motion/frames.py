"""What is shown of a motion while it plays."""

from __future__ import annotations

from dataclasses import replace

from mektel.core.look import Look
from mektel.core.look.resolve import look_of
from mektel.core.motion.timeline import Motion
from mektel.core.remember import COARSER_FROM


def frame_of(motion: Motion, at: float, scale: float) -> Look:
    """The look at a moment of the timeline (seconds), to be seen for a moment.

    Where pixels are small the outline stands on whole ones: what lies on it and does not change is
    the same from frame to frame.
    """
    pose = motion.at(at)
    offset = pose.outline.offset
    if scale >= COARSER_FROM and any(offset):
        whole = (round(offset[0] * scale) / scale, round(offset[1] * scale) / scale)
        pose = replace(pose, outline=pose.outline.model_copy(update={"offset": whole}))
    return look_of(pose)
