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

    def picture(self, wanted: Wanted, slot: int = 0) -> QImage | None:
        image = self._pictures.get(wanted)
        if image is None:
            self._awaited[slot] = wanted
        else:
            self._awaited.pop(slot, None)
            self._last[slot] = image
        return self._last.get(slot)

    def _take_ready(self, wanted: Wanted) -> None:
        if any(wanted is one or wanted == one for one in self._awaited.values()):
            self.update()
