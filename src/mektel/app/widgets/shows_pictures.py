"""For widgets that show pictures which may still have to be drawn."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from PySide6.QtGui import QImage
from PySide6.QtWidgets import QWidget

from mektel.app.looks import Drawn, Looks
from mektel.app.pictures import PictureStore, Wanted
from mektel.core.kit import Control, Kit

if TYPE_CHECKING:
    Base = QWidget
else:
    Base = object


class ShowsPictures(Base):
    """Mixed into a QWidget: gives the picture, or the one before it until the new one is there.

    The widget is repainted when what it waits for is ready, and only then.
    """

    # Whether its pictures may be drawn in the interface thread: what follows the hand.
    draws_at_once = True

    def watch(self, pictures: PictureStore) -> None:
        self._pictures = pictures
        self._last: dict[int, QImage] = {}
        self._awaited: dict[int, Wanted] = {}

    def watch_looks(self, looks: Looks) -> None:
        self._looks, self._awaits_look = looks, False
        looks.ready.connect(self._take_look)

    def look(
        self, kit: Kit, control: Control, flags: Iterable[str],
        size: tuple[float, float] | None = None,
    ) -> Drawn | None:
        """The look to show; none until it is there, and then :meth:`look_ready` is called."""
        drawn = self._looks.get(kit, control, flags, size)
        self._awaits_look = self._awaits_look or drawn is None
        return drawn

    def look_ready(self) -> None:
        self.repaint_soon()

    def repaint_soon(self) -> None:
        """Repaints it in one of the next turns, of which none takes long."""
        self._pictures.turns.repaint(self)

    def _take_look(self) -> None:
        if self._awaits_look:
            self._awaits_look = False
            self.look_ready()

    def follow(self, wanted: Wanted, slot: int = 0) -> bool:
        """Asks for a picture before there is anything to repaint; whether it is there already.

        The widget keeps what it shows until the new picture is ready.
        """
        there = self._pictures.get(wanted, self.draws_at_once) is not None
        if not there:
            self._await(wanted, slot)
        return there

    def _await(self, wanted: Wanted, slot: int) -> None:
        self._awaited[slot] = wanted
        self._pictures.repaint_when_ready(wanted, self)

    def last_picture(self, slot: int = 0) -> QImage | None:
        """What it showed last."""
        return self._last.get(slot)

    def picture(self, wanted: Wanted, slot: int = 0) -> QImage | None:
        image = self._pictures.get(wanted, self.draws_at_once)
        if image is None:
            self._await(wanted, slot)
        else:
            self._awaited.pop(slot, None)
            self._last[slot] = image
        return self._last.get(slot)

    def awaits(self, slot: int = 0) -> bool:
        """Whether what it shows is older than what it asked for."""
        return slot in self._awaited
