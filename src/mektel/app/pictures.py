"""Pictures for widgets, rendered off the interface thread and kept by value."""

from __future__ import annotations

import time
from collections.abc import Hashable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

import cachetools
from PySide6.QtCore import (
    QObject,
    QPointF,
    QRectF,
    Qt,
    QTimer,
    Signal,
    Slot,
)
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

from mektel.app.faults import faults
from mektel.app.theme import theme, ui_font
from mektel.app.turns import Turns
from mektel.app.widgets.backdrop import paint_backdrop
from mektel.core.errors import MektelError
from mektel.core.look import LabelLook, Look, Margins, StrokeLook
from mektel.core.paint import estimated_seconds, picture_size, render, render_layer, render_on
from mektel.core.shape import FreeOutline

LARGEST_STORE = 32 * 1024 * 1024
LARGEST_MESSAGE = 1200


@dataclass(frozen=True)
class Behind:
    """A backdrop over an area, and where in it a picture begins: what a lens sees."""

    backdrop: str
    width: int
    height: int
    x: float
    y: float
    ratio: float


@dataclass(frozen=True)
class Wanted:
    """What a picture shows: everything its pixels depend on, and nothing else."""

    look: Look
    scale: float
    margins: Margins
    layer: str | None = None
    behind: Behind | None = None

    def sort(self) -> Hashable:
        """What pictures have in common that take about as long to draw, if one was drawn before:
        masks of letters and of odd outlines are kept, and take long when they are new.
        """
        layers = tuple((layer.id, type(layer), _mask_of(layer)) for layer in self.look.layers)
        return layers, self.layer, round(self.scale, 1), round(self.look.width / 50)


def _mask_of(layer: object) -> Hashable:
    """What its mask depends on, if that takes long to make."""
    if isinstance(layer, LabelLook):
        return (layer.text, layer.family, layer.weight, layer.size, layer.swell, layer.sigma,
                layer.x, layer.baseline)
    if isinstance(layer, StrokeLook):
        return layer.lines, layer.width
    outline = getattr(layer, "outline", None)
    return outline if isinstance(outline, FreeOutline) else None


def behind_for(
    look: Look, backdrop: str, area: QRectF, corner: QPointF, ratio: float
) -> Behind | None:
    """What a look stands on, where its pixels depend on that; else none, so pictures are kept.

    ``corner`` is the picture's top left; ``ratio`` its pixels per unit of ``area``.
    """
    if not look.sees_behind:
        return None
    return Behind(backdrop, round(area.width()), round(area.height()),
                  round(corner.x() - area.x(), 2), round(corner.y() - area.y(), 2), ratio)


def backdrop_pixels(behind: Behind, size: tuple[int, int]) -> bytes:
    """The backdrop under a picture, as premultiplied RGBA bytes of the picture's size."""
    width, height = size
    image = QImage(width, height, QImage.Format.Format_RGBA8888_Premultiplied)
    image.fill(0)
    painter = QPainter(image)
    painter.scale(behind.ratio, behind.ratio)
    painter.translate(-behind.x, -behind.y)
    paint_backdrop(painter, QRectF(0, 0, behind.width, behind.height), behind.backdrop, 0)
    painter.end()
    return bytes(image.constBits())[: width * height * 4]


def _timed(wanted: Wanted) -> tuple[QImage, float]:
    """A picture, and the seconds that drawing it took."""
    began = time.thread_time()
    return picture_or_message(wanted), time.thread_time() - began


def draw(wanted: Wanted) -> QImage:
    if wanted.layer is None and wanted.behind is not None:
        size = picture_size(wanted.look, wanted.scale, wanted.margins)
        behind = backdrop_pixels(wanted.behind, size)
        picture = render_on(wanted.look, wanted.scale, wanted.margins, behind)
    elif wanted.layer is None:
        picture = render(wanted.look, wanted.scale, wanted.margins)
    else:
        picture = render_layer(wanted.look, wanted.layer, wanted.scale, wanted.margins)
    width, height = picture.size
    image = QImage(
        picture.rgba.tobytes(), width, height, width * 4,
        QImage.Format.Format_RGBA8888_Premultiplied,
    ).copy()
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def picture_or_message(wanted: Wanted) -> QImage:
    """The picture; or, where it cannot be drawn, one that says why, small enough for any kit."""
    try:
        return draw(wanted)
    except MektelError as error:
        return _message_picture(wanted, str(error))
    except Exception as error:
        faults().report(error)
        return _message_picture(wanted, "This cannot be drawn.")


def _message_picture(wanted: Wanted, why: str) -> QImage:
    width, height = picture_size(wanted.look, wanted.scale, wanted.margins)
    width, height = max(1, min(width, LARGEST_MESSAGE)), max(1, min(height, LARGEST_MESSAGE))
    image = QImage(width, height, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(QColor(theme().panel))
    painter = QPainter(image)
    painter.setPen(QColor(theme().bad))
    painter.setFont(ui_font(12))
    painter.drawText(QRectF(4, 2, width - 8, height - 4),
                     Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, why)
    painter.end()
    return image


# Drawing on the interface thread that one turn of its loop may pay for, in seconds.
AT_ONCE = 0.008


class KeptPictures:
    """Pictures within a bound, and how long those of each sort took to draw."""

    def __init__(self, most: int = LARGEST_STORE) -> None:
        self.images: cachetools.LRUCache[Wanted, QImage] = cachetools.LRUCache(
            most, QImage.sizeInBytes)
        self.took: dict[Hashable, float] = {}


# Of all windows.
_shared = KeptPictures()


class PictureStore(QObject):
    """``get`` gives a picture at once if it is there; if not, it is drawn beside this thread.

    Small pictures, known to be quick from the last of their kind, are drawn in turns of this
    thread: handing each to another would cost more than drawing it.
    """

    _done = Signal(object)

    def __init__(self, parent: QObject | None = None, kept: KeptPictures | None = None) -> None:
        super().__init__(parent)
        self._kept = kept or _shared
        self._pending: dict[Wanted, Future[tuple[QImage, float]]] = {}
        self._waiting: dict[Wanted, list[QWidget]] = {}
        self._stopped = False
        self._left = AT_ONCE
        self._turn = QTimer(self, singleShot=True, interval=0)
        self._turn.timeout.connect(self._new_turn)
        self.turns = Turns(self)
        self._workers = ThreadPoolExecutor(2, thread_name_prefix="pictures")
        self._done.connect(self._take, Qt.ConnectionType.QueuedConnection)

    def get(self, wanted: Wanted, at_once: bool = True) -> QImage | None:
        """The picture, or none until it is there; only drawn in this thread if ``at_once``."""
        image = self._kept.images.get(wanted)
        if image is None and wanted not in self._pending and not self._stopped:
            took = self._kept.took.get(wanted.sort(), 1.0)
            if at_once and took < AT_ONCE and estimated_seconds(
                    wanted.look, wanted.scale, wanted.margins) < AT_ONCE:
                if self.turns.working and took < self._left:
                    return self._draw_at_once(wanted)
                # Qt repaints much in one go: nothing is drawn in the middle of it.
                self.turns.ask(wanted, lambda: self._draw_in_turn(wanted))
                return None
            self._pending[wanted] = self._workers.submit(_timed, wanted)
            self._pending[wanted].add_done_callback(lambda _task: self._done.emit(wanted))
        return image

    def _draw_in_turn(self, wanted: Wanted) -> None:
        if self.get(wanted) is not None:
            self._notify(wanted)

    def _draw_at_once(self, wanted: Wanted) -> QImage:
        began = time.perf_counter()
        image = picture_or_message(wanted)
        took = time.perf_counter() - began
        self._note(wanted, took)
        self._left -= took
        self._turn.start()
        self._store(wanted, image)
        return image

    def _note(self, wanted: Wanted, took: float) -> None:
        """Remembers how long a picture of this sort took; what took long once may do so again."""
        if len(self._kept.took) > 2000:
            self._kept.took.clear()
        sort = wanted.sort()
        self._kept.took[sort] = max(took, 0.8 * self._kept.took.get(sort, 0.0))

    def _new_turn(self) -> None:
        self._left = AT_ONCE

    def drop_waiting(self) -> None:
        """Forgets what nobody has begun to draw: an edit has made it stale."""
        for wanted in self.turns.drop(Wanted):
            self._notify(wanted)
        for wanted, work in list(self._pending.items()):
            if work.cancel():
                del self._pending[wanted]
                self._notify(wanted)  # who still waits for it asks again

    @Slot(object)
    def _take(self, wanted: Wanted) -> None:
        task = self._pending.get(wanted)
        if task is None or not task.done():
            return  # dropped; asked for again, it may be under way
        del self._pending[wanted]
        image, took = task.result()
        self._note(wanted, took)
        self._store(wanted, image)
        self._notify(wanted)

    def repaint_when_ready(self, wanted: Wanted, widget: QWidget) -> None:
        """Has a widget repainted once a picture that it was not given is there, or dropped."""
        self._waiting.setdefault(wanted, []).append(widget)

    def _notify(self, wanted: Wanted) -> None:
        for widget in self._waiting.pop(wanted, ()):
            if isValid(widget):
                self.turns.repaint(widget)

    def _store(self, wanted: Wanted, image: QImage) -> None:
        if image.sizeInBytes() < self._kept.images.maxsize:
            self._kept.images[wanted] = image

    @property
    def busy(self) -> bool:
        return bool(self._pending) or self.turns.busy

    def stop(self) -> None:
        """Ends all drawing for good, and waits for what is under way."""
        self._stopped = True
        self.drop_waiting()
        self._workers.shutdown()
