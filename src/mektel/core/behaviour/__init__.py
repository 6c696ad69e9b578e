"""How a control answers to pointer, keys and its application: the same in every target."""

from mektel.core.behaviour.machine import HOLD_SECONDS, Event, Kind, Situation, play, step
from mektel.core.behaviour.traces import Trace, traces

__all__ = ["HOLD_SECONDS", "Event", "Kind", "Situation", "Trace", "play", "step", "traces"]
