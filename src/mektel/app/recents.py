"""Recent kits: each with a picture of its first control."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPixmap
from PySide6.QtWidgets import QMenu

from mektel.app.settings import Settings
from mektel.app.theme import theme
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import tip
from mektel.app.workbench import Workbench
from mektel.core.errors import MektelError
from mektel.core.kit import Kit
from mektel.core.look import resolve
from mektel.core.paint import render
from mektel.formats.kitfile import write_atomically
from mektel.formats.png import png_bytes

# Px of an icon in the menu.
SIDE = 48


class Recents:
    """Keeps the pictures and fills the menu."""

    def __init__(self, bench: Workbench) -> None:
        self.bench, self.settings = bench, bench.settings
        self._pictured: tuple[Path, Kit] | None = None
        bench.file_changed.connect(self._picture)

    def _picture(self) -> None:
        """Makes the picture of what was opened or saved, beside the interface thread."""
        path, kit = self.bench.files.path, self.bench.kit
        if path is None or not kit.controls or self._pictured == (path, kit):
            return
        self._pictured = (path, kit)
        settings = self.settings
        self.bench.background.ask("thumbnail", lambda: _write(settings, path, kit), _done)

    def fill(self, menu: QMenu, open_: Callable[[Path], object]) -> None:
        menu.setStyleSheet(f"QMenu {{ icon-size: {SIDE}px; }}")
        for path in self.settings.recent:
            action = add_action(menu, path.stem, open_, path)
            tip(action, str(path))
            action.setEnabled(path.exists())
            action.setIcon(_icon(self.settings.thumbnail(path)))
        menu.setToolTipsVisible(True)
        menu.setEnabled(not menu.isEmpty())


def _write(settings: Settings, path: Path, kit: Kit) -> None:
    with contextlib.suppress(OSError, MektelError, ArithmeticError, ValueError):
        look = resolve(kit, kit.controls[0])
        scale = min(2.0, 2 * SIDE / max(look.width, look.height))
        content = png_bytes(render(look, scale, look.margins()).rgba)
        place = settings.thumbnail(path)
        place.parent.mkdir(parents=True, exist_ok=True)
        write_atomically(place, content)


def _done(_nothing: None) -> None:
    pass


def _icon(file: Path) -> QIcon:
    """The picture on a tile of the window's ground; an empty tile where there is none."""
    tile = QPixmap(2 * SIDE, 2 * SIDE)
    tile.fill(Qt.GlobalColor.transparent)
    painter = QPainter(tile)
    painter.setRenderHints(
        QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
    painter.setBrush(QColor(theme().well))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawRoundedRect(QRectF(2, 2, 2 * SIDE - 4, 2 * SIDE - 4), 8, 8)
    picture = QPixmap(str(file))
    if not picture.isNull():
        share = min(1.0, (2 * SIDE - 16) / max(picture.width(), picture.height()))
        box = QRectF(0, 0, picture.width() * share, picture.height() * share)
        box.moveCenter(QRectF(tile.rect()).center())
        painter.drawPixmap(box, picture, QRectF(picture.rect()))
    painter.end()
    tile.setDevicePixelRatio(2)
    return QIcon(tile)
