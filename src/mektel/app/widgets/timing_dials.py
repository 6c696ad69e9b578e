"""How a change moves, as dials: at once, by an easing, a spring or following."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from mektel.app.theme import GAP_1
from mektel.app.widgets.dials import ChoiceDial, CommittedTextDial, Dial
from mektel.app.widgets.number_dials import NumberDial
from mektel.app.widgets.plain import PlainLabel
from mektel.core.easing import KEYWORDS, EasingError, easing_from_text
from mektel.core.kit import Measure, measure_of
from mektel.core.kit.timing import Timing

AT_ONCE = ("none", "at once")
KINDS = [("easing", "easing"), ("spring", "spring"), ("follow", "follow")]
OWN = "own"
CURVES = [*((name, name) for name in KEYWORDS if not name.startswith("step")),
          ("steps(4)", "steps"), ("linear(0, 0.5 50%, 1)", "points"), (OWN, "own curve")]
MILLISECONDS = Measure("ms", 0, 10_000, 10, 0)
MIXING = [("srgb", "sRGB, as CSS"), ("oklab", "OKLab")]


class TimingDials(QWidget):
    """``changed`` is sent with a timing, or None for at once, and whether a drag is going on."""

    changed = Signal(object, bool)
    drag_ended = Signal()

    def __init__(self, parent: QWidget, may_be_at_once: bool = True) -> None:
        super().__init__(parent)
        self.timing: Timing | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(GAP_1)
        self.kind = ChoiceDial("Moves by", [AT_ONCE, *KINDS] if may_be_at_once else KINDS, self)
        self.curve = ChoiceDial("Curve", CURVES, self)
        self.easing = CommittedTextDial("as CSS", self)
        self.bounce = NumberDial("Bounce", measure_of(Timing, "bounce"), self)
        self.seconds = NumberDial("Takes", MILLISECONDS, self)
        self.delay = NumberDial("Waits", MILLISECONDS, self)
        self.mixing = ChoiceDial("Colours in", MIXING, self)
        self.dials: dict[str, Dial] = {
            "kind": self.kind, "curve": self.curve, "easing": self.easing, "bounce": self.bounce,
            "seconds": self.seconds, "delay": self.delay, "mixing": self.mixing}
        for name, dial in self.dials.items():
            column.addWidget(dial)
            dial.changed.connect(lambda value, drag, name=name: self._set(name, value, drag))
            dial.drag_ended.connect(self.drag_ended)
        self.wrong = PlainLabel(self)
        self.wrong.setProperty("role", "bad")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        column.addWidget(self.wrong)

    def show_timing(self, timing: Timing | None) -> None:
        self.timing = timing
        self.wrong.hide()
        kind = timing.kind if timing is not None else "none"
        self.kind.show_value(kind)
        for name, kinds in (("curve", ("easing",)), ("easing", ("easing",)),
                            ("bounce", ("spring",)), ("seconds", ("easing", "spring", "follow")),
                            ("delay", ("easing", "spring", "follow")),
                            ("mixing", ("easing", "spring", "follow"))):
            self.dials[name].setVisible(kind in kinds)
        if timing is None:
            return
        known = [value for value, _ in CURVES]
        self.curve.show_value(timing.easing if timing.easing in known else OWN)
        self.easing.show_value(timing.easing)
        self.bounce.show_value(timing.bounce)
        self.seconds.label.setText("Takes" if kind == "easing" else "Settles in")
        self.seconds.show_value(timing.seconds * 1000)
        self.delay.show_value(timing.delay * 1000)
        self.mixing.show_value(timing.mixing)

    def _set(self, name: str, value: Any, drag: bool) -> None:
        now = (self.timing or Timing(seconds=0.2)).unnamed
        if name == "kind":
            wanted = None if value == "none" else now.model_copy(update={"kind": value})
            self.changed.emit(wanted, drag)
            return
        if name == "curve":
            if value == OWN:
                value = KEYWORDS.get(now.easing, now.easing)
            name = "easing"
        if name == "easing":
            try:
                easing_from_text(value)
            except EasingError as error:
                self.wrong.setText(str(error))
                self.wrong.show()
                return
        if name in ("seconds", "delay"):
            value = round(value / 1000, 3)
        self.changed.emit(now.model_copy(update={name: value}), drag)


def timing_text(timing: Timing) -> str:
    """A timing in short, as ``spring 400 ms, bounce 30 %``."""
    time = f"{timing.seconds * 1000:g} ms"
    if timing.kind == "spring":
        return f"spring {time}, bounce {timing.bounce * 100:g} %"
    if timing.kind == "follow":
        return f"follow {time}"
    known = [value for value, _ in CURVES]
    return f"{timing.easing if timing.easing in known else 'own curve'} {time}"
