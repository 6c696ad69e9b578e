"""How a control answers to pointer, keys and its application: the same in every target."""

from mektel.core.behaviour.machine import LONG_PRESS_SECONDS, Event, Kind, Situation, play, step
from mektel.core.behaviour.traces import Trace, traces

__all__ = ["LONG_PRESS_SECONDS", "Event", "Kind", "Situation", "Trace", "play", "step", "traces"]
