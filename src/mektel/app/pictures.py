"""Pictures for widgets, rendered off the interface thread and kept by value."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass

from PySide6.QtCore import QObject, QPointF, QRectF, QRunnable, QThreadPool, Signal, Slot
from PySide6.QtGui import QImage, QPainter

from mektel.app.parts.backdrop import paint_backdrop
from mektel.core.look import Look, Margins
from mektel.core.paint import picture_size, render, render_layer, render_on

LARGEST_STORE = 128 * 1024 * 1024


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


class _Told(QObject):
    done = Signal(object, QImage)


class _Work(QRunnable):
    def __init__(self, wanted: Wanted, told: _Told) -> None:
        super().__init__()
        self.wanted = wanted
        self.told = told

    def run(self) -> None:
        self.told.done.emit(self.wanted, draw(self.wanted))


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


class PictureStore(QObject):
    """``get`` gives a picture at once if it is there; if not, it is drawn and ``ready`` sent."""

    ready = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._kept: OrderedDict[Wanted, QImage] = OrderedDict()
        self._bytes = 0
        self._pending: dict[Wanted, _Work] = {}
        self._stopped = False
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(2)
        self._told = _Told()
        self._told.done.connect(self._keep)

    def get(self, wanted: Wanted) -> QImage | None:
        image = self._kept.get(wanted)
        if image is not None:
            self._kept.move_to_end(wanted)
        elif wanted not in self._pending and not self._stopped:
            work = _Work(wanted, self._told)
            work.setAutoDelete(False)
            self._pending[wanted] = work
            self._pool.start(work)
        return image

    def drop_waiting(self) -> None:
        """Forgets what nobody has begun to draw: an edit has made it stale."""
        for wanted, work in list(self._pending.items()):
            if self._pool.tryTake(work):
                del self._pending[wanted]
                self.ready.emit(wanted)  # who still waits for it asks again

    @Slot(object, QImage)
    def _keep(self, wanted: Wanted, image: QImage) -> None:
        self._pending.pop(wanted, None)
        self._kept[wanted] = image
        self._bytes += image.sizeInBytes()
        while self._bytes > LARGEST_STORE and len(self._kept) > 1:
            _, old = self._kept.popitem(last=False)
            self._bytes -= old.sizeInBytes()
        self.ready.emit(wanted)

    @property
    def busy(self) -> bool:
        return bool(self._pending)

    def stop(self) -> None:
        """Ends all drawing for good: the pool must be idle when Qt takes it down."""
        self._stopped = True
        self.drop_waiting()
        self._pool.waitForDone()
