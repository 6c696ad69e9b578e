"""What is remembered between runs: recent kits, theme; and where unsaved work is kept."""

from __future__ import annotations

import contextlib
import hashlib
import json
from pathlib import Path
from typing import Any

import platformdirs

from mektel.core.errors import MektelError
from mektel.formats.kitfile import write_atomically

MOST_RECENT = 8


class Settings:
    """Small JSON files in the user's configuration and state folders."""

    def __init__(self) -> None:
        self._folder = platformdirs.user_config_path("mektel")
        self._state = platformdirs.user_state_path("mektel")
        self._data: dict[str, Any] = {}
        # Broken, or nested too deep: as if there was none.
        with contextlib.suppress(OSError, ValueError, RecursionError):
            data = json.loads((self._folder / "settings.json").read_text(encoding="utf-8"))
            self._data = data if isinstance(data, dict) else {}

    @property
    def theme(self) -> str:
        choice = self._data.get("theme")
        return choice if choice in ("light", "dark") else "desktop"

    @theme.setter
    def theme(self, choice: str) -> None:
        self._data["theme"] = choice
        self._write()

    @property
    def recent(self) -> list[Path]:
        names = self._data.get("recent")
        listed = names if isinstance(names, list) else []
        return [Path(name) for name in listed if isinstance(name, str)][:MOST_RECENT]

    def remember(self, path: Path) -> None:
        full = path.resolve()
        kept = [str(full), *(str(old) for old in self.recent if old != full)]
        self._data["recent"] = kept[:MOST_RECENT]
        self._write()

    @property
    def place(self) -> dict[str, str]:
        """Where the window was, and how wide its panes."""
        place = self._data.get("place")
        return {key: value for key, value in place.items() if isinstance(value, str)} if isinstance(
            place, dict) else {}

    @place.setter
    def place(self, place: dict[str, str]) -> None:
        self._data["place"] = place
        self._write()

    @property
    def walked(self) -> bool:
        """Whether the walk along the route was done or skipped."""
        return self._data.get("walked") is True

    @walked.setter
    def walked(self, walked: bool) -> None:
        self._data["walked"] = walked
        self._write()

    def thumbnail(self, path: Path) -> Path:
        """Where the picture of a kit's first control is kept."""
        name = hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:24]
        return self._state / "thumbnails" / f"{name}.png"

    @property
    def recovery_folder(self) -> Path:
        return self._state / "unsaved"

    @property
    def crash_folder(self) -> Path:
        return self._state / "crashes"

    @property
    def log_file(self) -> Path:
        return self._state / "faults.log"

    def _write(self) -> None:
        # Not being able to remember is no reason to stop anybody's work.
        with contextlib.suppress(OSError, MektelError):
            self._folder.mkdir(parents=True, exist_ok=True)
            write_atomically(
                self._folder / "settings.json", json.dumps(self._data, indent=2).encode()
            )
