"""Looks a window over for what a person would stumble on: text that is cut off, widgets on each
other or out of their place, targets too small to hit, text too pale to read.
"""

from __future__ import annotations

import math
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from functools import cache
from pathlib import Path
from unittest.mock import patch

import numpy as np
from PIL import Image, ImageDraw
from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QImage
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QLabel,
    QLineEdit,
    QPushButton,
    QStackedWidget,
    QWidget,
)

from mektel.app.bring_in import picture_reading
from mektel.core.colour import contrast_of
from mektel.core.fit import Reading
from mektel.core.fit.fitting import Fit
from mektel.core.fit.masks import Geometry
from mektel.core.fit.model import Parts

SIZES = ((1280, 800), (1024, 700), (1920, 1080), (2560, 1440))
SELECTED = {"Build": ("night-watch", "hover", "wake"), "Feel": ("cast-off",)}
SMALLEST, SHARP, READABLE = 24, 2, 4.5
# Characters up to which what is typed in a field shows whole.
SHORT = 12


VIEWS = ("Build", "Feel", "Reuse", "Ship", "style sheet", "pictures", "reading")


def views(window: QWidget, names: Sequence[str] = VIEWS) -> Iterator[str]:
    """These views, shown, with something in each that takes room."""
    bench, build = window.bench, window.build
    for name in names:
        if name == "Ship":  # what is written for a few controls fills its view
            bench.start(bench.kit.model_copy(update={"controls": bench.kit.controls[:2]}), None)
        if name in VIEWS[:4]:
            bench.select(*SELECTED.get(name, ("board" if name == "Ship" else "queue",)))
            window.go_to(name)
            yield name
            continue
        window.go_to("Build")
        if name == "style sheet":
            bench.import_drawing(Path("examples/ferry-site.css").absolute())
        elif name == "pictures":
            bench.import_files([Path("examples/anchor-sheet@2x.png").absolute()])
            wait(lambda: build.pictures.pictures.result is not None)
        else:
            with patch.object(picture_reading, "read_states", _as_known):
                build.show_reading({"rest": _flat_picture()})
                wait(lambda: not build.reading.reading.busy)
        yield name
        build.over.close_view()


def wait(holds: Callable[[], bool], seconds: float = 60) -> None:
    """Until something holds. Unlike Qt's own waiting, this lets other Python threads work."""
    end = time.monotonic() + seconds
    while not holds() and time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.005)


def _as_known(pictures: dict[str, np.ndarray], _progress: object) -> dict[str, Reading]:
    """It is the window that is looked over: what would be read is known."""
    fit = Fit(pictures["rest"][:, :, :3] / 255, lambda _: None)
    fit.parts = Parts(line=True)
    return {"rest": fit.reading(Geometry(8, 7, 36, 15, 4, line=1), 1.0)}


@cache
def _flat_picture() -> Path:
    """A small picture of a button, which is read quickly."""
    picture = Image.new("RGB", (52, 30), "#EDE5D6")
    draw = ImageDraw.Draw(picture)
    draw.rounded_rectangle((8, 7, 43, 21), 4, fill="#C8742C", outline="#5A2D0E")
    path = Path(tempfile.mkdtemp()) / "gate.png"
    picture.save(path)
    return path


def made_longer(window: QWidget, more: float = 0.4) -> None:
    """Every text of ours as long as other languages have it; names and figures as they are."""
    kit, control = window.bench.kit, window.bench.control
    own = {kit.name, control.name, control.text, *(layer.name for layer in control.layers)}
    for widget in (*window.findChildren(QLabel), *window.findChildren(QPushButton)):
        text = widget.text()
        ours = sum(letter.isalpha() for letter in text) > 2 and not any(
            name and text.startswith(name) for name in own)
        if ours and "<" not in text and not widget.property("longer"):
            widget.setProperty("longer", True)
            widget.setText(f"{text} {'n' * math.ceil(more * len(text))}")


def faults_of(window: QWidget, colours: bool = True) -> list[str]:
    """Every fault, in words, each once; contrast, which no size changes, if ``colours``."""
    shown = [widget for widget in window.findChildren(QWidget)
             if widget.isVisible() and widget.window() is window]
    found = [*_cut(shown), *_astray(shown), *_overlapping(shown), *_small(shown)]
    if colours:
        found += _pale(window, shown, _picture(window))
    return list(dict.fromkeys(found))


def _name(widget: QWidget) -> str:
    text = getattr(widget, "text", lambda: "")()
    return f"{type(widget).__name__} “{text or widget.accessibleName() or widget.objectName()}”"


def _plain(widget: QWidget) -> str:
    """The text of a label or button that stands on one line."""
    if isinstance(widget, QLabel) and (widget.wordWrap() or "<" in widget.text()):
        return ""
    return widget.text() if type(widget) in (QLabel, QPushButton) else ""


def _cut(shown: list[QWidget]) -> Iterator[str]:
    for widget in shown:
        text = _plain(widget)
        lines = text.replace("&", "").split("\n")
        wide = max(widget.fontMetrics().horizontalAdvance(line) for line in lines)
        if text and wide > widget.contentsRect().width() + 1:
            yield f"{_name(widget)} is cut: {wide} in {widget.contentsRect().width()} px"


    for widget in shown:
        if isinstance(widget, QLineEdit) and 0 < len(widget.text()) <= SHORT:
            wide = widget.fontMetrics().horizontalAdvance(widget.text())
            if wide > widget.width():
                yield f"{_name(widget)} shows a part: {wide} in {widget.width()} px"


def _scrolled(widget: QWidget) -> bool:
    """Whether a widget's parent shows a part of it at a time."""
    area = widget.parentWidget().parentWidget() if widget.parentWidget() else None
    return isinstance(area, QAbstractScrollArea) and area.viewport() is widget.parentWidget()


def _astray(shown: list[QWidget]) -> Iterator[str]:
    for widget in shown:
        parent = widget.parentWidget()
        if (parent is None or _scrolled(widget) or widget.isWindow() or widget.size().isEmpty()
                or _lies_over(widget)):
            continue
        out = widget.geometry().adjusted(1, 1, -1, -1)
        if not parent.rect().contains(out):
            yield f"{_name(widget)} sticks out of {_name(parent)}"


def _overlapping(shown: list[QWidget]) -> Iterator[str]:
    by_parent: dict[QWidget, list[QWidget]] = {}
    for widget in shown:
        parent = widget.parentWidget()
        if parent is not None and not isinstance(parent, QStackedWidget) and not widget.isWindow():
            by_parent.setdefault(parent, []).append(widget)
    for children in by_parent.values():
        for at, widget in enumerate(children):
            for other in children[at + 1:]:
                shared = widget.geometry().intersected(other.geometry())
                if shared.width() > 1 and shared.height() > 1 and not _lies_over(other):
                    yield f"{_name(other)} lies on {_name(widget)}"


def _lies_over(widget: QWidget) -> bool:
    """What is meant to lie on what surrounds it."""
    return type(widget).__name__ in ("LiveControl", "IrisOver", "QSplitterHandle", "GuidePane")


def _small(shown: list[QWidget]) -> Iterator[str]:
    for widget in shown:
        if isinstance(widget, QAbstractButton) and widget.isEnabled() and type(
                widget).__name__ != "LiveControl":
            size = min(widget.width(), widget.height())
            if size < SMALLEST:
                yield f"{_name(widget)} is a target of {widget.width()} × {widget.height()} px"


def _picture(window: QWidget) -> np.ndarray:
    image = QImage(window.size() * SHARP, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(SHARP)
    window.render(image, QPoint())
    raw = np.frombuffer(bytes(image.constBits()), np.uint8)
    return raw.reshape(image.height(), -1, 4)[:, : image.width(), 2::-1]


def _pale(window: QWidget, shown: list[QWidget], picture: np.ndarray) -> Iterator[str]:
    """Text whose strongest pixel has less contrast than AA asks for with the ground."""
    for widget in shown:
        if not _plain(widget).strip() or not widget.isEnabled():
            continue
        spot = QRect(widget.mapTo(window, QPoint()), widget.size())
        visible = widget.visibleRegion().boundingRect().translated(spot.topLeft())
        if visible.size() != spot.size():
            continue
        rows = slice(spot.top() * SHARP, (spot.bottom() + 1) * SHARP)
        columns = slice(spot.left() * SHARP, (spot.right() + 1) * SHARP)
        pixels = picture[rows, columns].reshape(-1, 3) @ np.array([1 << 16, 1 << 8, 1])
        colours, counts = np.unique(pixels, return_counts=True)
        ground = _hex(colours[counts.argmax()])
        best = max(contrast_of(_hex(colour), ground)
                   for colour in colours[np.argsort(counts)[-60:]])
        if best < READABLE:
            yield f"{_name(widget)} has a contrast of {best:.1f}"


def _hex(colour: int) -> str:
    return f"#{colour:06X}"
