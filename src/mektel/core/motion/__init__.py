"""Motion: a timeline of what happened and a moment give a pose."""

from mektel.core.motion.changes import change
from mektel.core.motion.course import Course, course_to
from mektel.core.motion.spring import Spring, spring_of
from mektel.core.motion.timeline import Motion, motion_of, played, pose_at

__all__ = ["Course", "Motion", "Spring", "change", "course_to",
           "motion_of", "played", "pose_at", "spring_of"]
