"""For widgets that show pictures which may still have to be drawn."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QImage
from PySide6.QtWidgets import QWidget

from mektel.app.pictures import PictureStore, Wanted

if TYPE_CHECKING:
    Base = QWidget
else:
    Base = object


class ShowsPictures(Base):
    """Mixed into a QWidget: gives the picture, or the one before it until the new one is there.

    The widget is repainted when what it waits for is ready, and only then.
    """

    def watch(self, pictures: PictureStore) -> None:
        self._pictures = pictures
        self._last: dict[int, QImage] = {}
        self._awaited: dict[int, Wanted] = {}
        pictures.ready.connect(self._take_ready)

    def follow(self, wanted: Wanted, slot: int = 0) -> bool:
        """Asks for a picture before there is anything to repaint; whether it is there already.

        The widget keeps what it shows until the new picture is ready.
        """
        there = self._pictures.get(wanted) is not None
        if not there:
            self._awaited[slot] = wanted
        return there

    def picture(self, wanted: Wanted, slot: int = 0) -> QImage | None:
        image = self._pictures.get(wanted)
        if image is None:
            self._awaited[slot] = wanted
        else:
            self._awaited.pop(slot, None)
            self._last[slot] = image
        return self._last.get(slot)

    def awaits(self, slot: int = 0) -> bool:
        """Whether what it shows is older than what it asked for."""
        return slot in self._awaited

    def _take_ready(self, wanted: Wanted) -> None:
        if wanted in self._awaited.values():
            self.update()
