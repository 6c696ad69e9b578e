"""Controls on their way out of the window: as a picture, as CSS, copied or dragged."""

from __future__ import annotations

import contextlib
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QMimeData, QUrl
from PySide6.QtGui import QDrag, QGuiApplication, QImage, QPixmap
from PySide6.QtWidgets import QWidget

from mektel.app.notices import Notice
from mektel.app.workbench import Workbench
from mektel.core.finding import Finding
from mektel.core.kit import Control, Kit
from mektel.core.look import resolve
from mektel.core.paint import render
from mektel.formats.css_writing import control_as_css
from mektel.formats.png import png_bytes

# Pixels per px of a picture that leaves; px of the picture that is dragged, at most.
SHARP, DRAGGED = 2, 200


@dataclass(frozen=True)
class TakenOut:
    """A control at rest as PNG, its shadows whole, and as CSS with what that leaves out."""

    name: str
    png: bytes
    css: str
    skipped: list[Finding]


def take_out(
    bench: Workbench, control: Control, then: Callable[[TakenOut], None]
) -> None:
    """Makes it beside the interface thread; ``then`` gets it in this one."""
    kit = bench.drawn
    bench.background.ask(f"take out {control.id}", lambda: _made(kit, control), then)


def _made(kit: Kit, control: Control) -> TakenOut:
    look = resolve(kit, control)
    css, skipped = control_as_css(kit, control)
    return TakenOut(control.id, png_bytes(render(look, SHARP, look.margins()).rgba), css, skipped)


def copy_css(bench: Workbench, control: Control) -> None:
    def copy(made: TakenOut) -> None:
        QGuiApplication.clipboard().setText(made.css)
        text = f"{control.name} is on the clipboard as CSS."
        if made.skipped:
            count = len(made.skipped)
            text += f" {count} {'thing is' if count == 1 else 'things are'} left out."
        bench.noticed.emit(Notice(text, tuple(map(str, made.skipped))))

    take_out(bench, control, copy)


def copy_picture(bench: Workbench, control: Control) -> None:
    def copy(made: TakenOut) -> None:
        QGuiApplication.clipboard().setImage(QImage.fromData(made.png))
        bench.noticed.emit(Notice(f"{control.name} is on the clipboard as a picture at {SHARP}×."))

    take_out(bench, control, copy)


def mime_of(made: TakenOut, folder: Path) -> QMimeData:
    """A file for file managers and toolkits, a picture for editors, CSS for text."""
    data = QMimeData()
    path = folder / f"{made.name}.png"
    with contextlib.suppress(OSError):
        path.write_bytes(made.png)
        data.setUrls([QUrl.fromLocalFile(str(path))])
    data.setImageData(QImage.fromData(made.png))
    data.setText(made.css)
    return data


def drag_out(made: TakenOut, widget: QWidget) -> QDrag:
    """The drag, ready to be executed; its file lives until the program ends."""
    drag = QDrag(widget)
    drag.setMimeData(mime_of(made, _folder()))
    picture = QPixmap()
    picture.loadFromData(made.png)
    picture.setDevicePixelRatio(max(SHARP, picture.width() / DRAGGED))
    drag.setPixmap(picture)
    return drag


_kept: list[tempfile.TemporaryDirectory[str]] = []


def _folder() -> Path:
    if not _kept:
        _kept.append(tempfile.TemporaryDirectory(prefix="mektel-drag-"))
    return Path(_kept[0].name)
