"""What the hand does to the live control: recorded, played again, in a loop, and saved."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mektel.app.dialogs import GESTURES, ask_save
from mektel.app.live_control import LiveControl
from mektel.app.notices import Notice
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.behaviour import Event
from mektel.core.errors import MektelError
from mektel.core.motion.gestures import gesture
from mektel.formats.gesture import gesture_text
from mektel.formats.kitfile import write_atomically

# Longest recording in events; seconds between two rounds of a loop, after all has settled.
MOST, REST = 2000, 0.5


class GestureBar(QWidget):
    """Until something was recorded, *Play* shows a press."""

    def __init__(self, bench: Workbench, live: LiveControl, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench, self.live = bench, live
        self.events: tuple[Event, ...] = gesture("press")
        self._recorded: list[Event] = []
        self._began = 0.0
        self._waiting: list[Event] = []
        self._next = QTimer(self, singleShot=True, timerType=Qt.TimerType.PreciseTimer)
        self._next.timeout.connect(self._go_on)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        buttons = QWidget(self)
        row = Flow(buttons, 0, 0)
        column.addWidget(buttons)
        self.record = self._button("Record", "Record what you do to the control from now on")
        self.play = self._button("Play", "Does it again; until you have recorded, a press")
        self.loop = self._button("Loop", "Repeat while you change values")
        self.save = self._button("Save…", "As a file, for mektel play --gesture")
        self.told = PlainLabel("Plays a press", self)
        self.told.setProperty("role", "small")
        for button in (self.record, self.play, self.loop, self.save):
            row.add(button)
        self.told.setContentsMargins(7, 0, 0, 0)
        self.told.setWordWrap(True)
        self.touch = self._button("Touch", "The pointer is a finger: nothing hovers, and it is "
                                           "inside only while it presses")
        self.touch.toggled.connect(live.set_touch)
        second = QHBoxLayout()
        second.setSpacing(0)
        second.addWidget(self.told, 1)
        second.addWidget(self.touch)
        column.addLayout(second)
        self.record.toggled.connect(self._record)
        self.play.toggled.connect(self._play)
        self.save.setCheckable(False)
        self.save.clicked.connect(self._save)
        live.took.connect(self._take)

    def _button(self, text: str, said: str) -> QPushButton:
        button = QPushButton(text, self)
        button.setProperty("tight", True)
        button.setCheckable(True)
        tip(button, said)
        return button

    # Recording

    def _record(self, on: bool) -> None:
        if on:
            self.play.setChecked(False)
            self._recorded, self._began = [], self.live.clock.now()
            self.told.setText("Press the control…")
            return
        if self._recorded:
            self.events = tuple(self._recorded)
        self._tell()

    def _take(self, event: Event) -> None:
        """What the hand does ends what is played."""
        self.play.setChecked(False)
        if self.record.isChecked() and len(self._recorded) < MOST:
            self._recorded.append(replace(event, at=round(event.at - self._began, 4)))

    def _tell(self) -> None:
        if self.events == gesture("press"):
            self.told.setText("Plays a press")
        else:
            count = len(self.events)
            self.told.setText(f"Plays {count} event{'s' * (count > 1)}, {self.events[-1].at:.1f} s")

    # Playing

    def _play(self, on: bool) -> None:
        self._next.stop()
        self._waiting = []
        if not on:
            self.live.end_gesture()
            return
        self.record.setChecked(False)
        self._begin()

    def _begin(self) -> None:
        self.live.end_gesture()
        self._began, self._waiting = self.live.clock.now(), list(self.events)
        self._go_on()

    def _go_on(self) -> None:
        """Does what is due, and comes back when the next is."""
        if not self._waiting:
            if self.loop.isChecked() and self.play.isChecked():
                self._begin()
            else:
                self.play.setChecked(False)
            return
        now = self.live.clock.now() - self._began
        while self._waiting and self._waiting[0].at <= now:
            event = self._waiting.pop(0)
            self.live.apply(replace(event, at=self._began + event.at))
        left = self._waiting[0].at - now if self._waiting else max(
            0.0, self.live.settles - self.live.clock.now()) + REST
        self._next.start(max(0, round(left / self.live.clock.speed * 1000)))

    # Saving

    def _save(self) -> None:
        proposed = self.bench.folder() / f"{self.bench.control_id or 'control'}-gesture.json"
        ask_save(self.window(), proposed, self._write, "Save gesture as", GESTURES)

    def _write(self, path: Path) -> None:
        try:
            write_atomically(path, gesture_text(self.events).encode())
        except MektelError as error:
            self.bench.noticed.emit(Notice(str(error), bad=True))
            return
        self.bench.noticed.emit(Notice(
            f"{path.name} is written. mektel play KIT CONTROL --gesture {path.name} plays it."))
