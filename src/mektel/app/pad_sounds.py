"""The sounds of the control in the try pad, heard where there is a device, and always named."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Sequence
from importlib import import_module
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QUrl, Signal

from mektel.app.workbench import Workbench
from mektel.core.motion.answers.sound import sounds_due
from mektel.core.sounds import sound_bytes

# A sound is not begun anew within so many seconds.
APART = 0.03


class PadSounds(QObject):
    played = Signal(str)

    def __init__(self, bench: Workbench, parent: QObject) -> None:
        super().__init__(parent)
        self.bench = bench
        self._begun: dict[str, float] = {}
        self._effects: dict[bytes, Any] = {}
        self._folder: tempfile.TemporaryDirectory[str] | None = None

    def take(self, causes: Sequence[str]) -> None:
        """Plays what is due to what happened."""
        control = self.bench.control
        if control is None or not causes:
            return
        for sound in sounds_due(control.answers, causes):
            self.play(sound.sound, sound.gain)

    def play(self, name: str, gain: float) -> None:
        """Plays a sound of the kit, or one that is shipped, and names it."""
        now = time.monotonic()
        if now - self._begun.get(name, -APART) < APART:
            return
        self._begun[name] = now
        self.played.emit(name)
        effect = self._effect(name)
        if effect is not None:
            effect.setVolume(gain)
            effect.play()

    def _effect(self, name: str) -> Any:
        """None without Qt Multimedia, or without a device to play by."""
        content = sound_bytes(self.bench.kit, name)
        if content not in self._effects:
            try:
                multimedia = import_module("PySide6.QtMultimedia")
                heard = not multimedia.QMediaDevices.defaultAudioOutput().isNull()
            except ImportError:
                heard = False
            self._effects[content] = None
            if heard:
                effect = multimedia.QSoundEffect(self)
                # It plays files only.
                self._folder = self._folder or tempfile.TemporaryDirectory(prefix="sounds-")
                file = Path(self._folder.name) / f"{len(self._effects)}.wav"
                file.write_bytes(content)
                effect.setSource(QUrl.fromLocalFile(str(file)))
                self._effects[content] = effect
        return self._effects[content]
