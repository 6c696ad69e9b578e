"""The sounds of the control in the try pad, heard where there is a device, and always named."""

from __future__ import annotations

import time
from collections.abc import Sequence
from importlib import import_module
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QUrl, Signal

from mektel.app.workbench import Workbench
from mektel.core.motion.answers.sound import sounds_due
from mektel.core.sounds import FOLDER

# A sound is not begun anew within so many seconds.
APART = 0.03


class PadSounds(QObject):
    played = Signal(str)

    def __init__(self, bench: Workbench, parent: QObject) -> None:
        super().__init__(parent)
        self.bench = bench
        self._begun: dict[str, float] = {}
        self._effects: dict[str, Any] = {}

    def take(self, causes: Sequence[str]) -> None:
        """Plays what is due to what happened."""
        control = self.bench.control
        if control is None or not causes:
            return
        for sound in sounds_due(control.answers, causes):
            now = time.monotonic()
            if now - self._begun.get(sound.sound, -APART) < APART:
                continue
            self._begun[sound.sound] = now
            self.played.emit(sound.sound)
            effect = self._effect(sound.sound)
            if effect is not None:
                effect.setVolume(sound.gain)
                effect.play()

    def _effect(self, name: str) -> Any:
        """None without Qt Multimedia, or without a device to play by."""
        if name not in self._effects:
            try:
                multimedia = import_module("PySide6.QtMultimedia")
                heard = not multimedia.QMediaDevices.defaultAudioOutput().isNull()
            except ImportError:
                heard = False
            self._effects[name] = None
            if heard:
                effect = multimedia.QSoundEffect(self)
                effect.setSource(QUrl.fromLocalFile(str(Path(FOLDER) / f"{name}.wav")))
                self._effects[name] = effect
        return self._effects[name]
