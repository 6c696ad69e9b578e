"""How controls move; shipped where one does."""

from .answers import Swing
from .clock import clock, reduced_motion, set_reduced_motion
from .courses import Timing
from .feel import Feel

__all__ = ["Feel", "Swing", "Timing", "clock", "reduced_motion", "set_reduced_motion"]
