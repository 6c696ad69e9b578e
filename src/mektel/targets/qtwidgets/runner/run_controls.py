"""Runs generated Qt controls in this process and photographs them. Knows nothing of Mektel.

Usage: run_controls.py FOLDER, where FOLDER/jobs.json lists what to run; writes N.png and N.json.
"""

from __future__ import annotations

import importlib
import json
import sys
import types
from pathlib import Path
from typing import Any

from PySide6.QtCore import QMargins, QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QPalette
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QWidget

PACKAGE = "controls"


def load(path: str) -> Any:
    """Imports the module as an application would: from the package that its folder is."""
    if PACKAGE not in sys.modules:
        package = types.ModuleType(PACKAGE)
        package.__path__ = [str(Path(path).parent)]
        sys.modules[PACKAGE] = package
    return importlib.import_module(f"{PACKAGE}.{Path(path).stem}")


def runtime() -> Any:
    """What all controls of the package share."""
    return importlib.import_module(f"{PACKAGE}.runtime")


def placed(job: dict, backdrop: str) -> tuple:
    """The control on a plain window, a button that takes the first focus, and the room to show."""
    window = QWidget()
    palette = QPalette(window.palette())
    palette.setColor(QPalette.ColorRole.Window, QColor(backdrop))
    window.setPalette(palette)
    before = QPushButton("before", window)  # takes the focus that a window gives when shown
    given = dict(job.get("arguments", {})) | dict.fromkeys(job.get("actions", []), print)
    if job["text"] is not None:
        given["text"] = job["text"].replace("&", "&&")  # no mnemonic
    control = getattr(load(job["file"]), job["class"])(parent=window, **given)
    for name, value in job["then"].items():
        setattr(control, name, value)
    hint, bleed = control.sizeHint(), control.bleed()
    control.setGeometry(60 + bleed.left(), 60 + bleed.top(), hint.width(), hint.height())
    before.setGeometry(4, 4, 40, 20)
    room = control.geometry().marginsAdded(bleed)
    window.resize(room.width() + 120, room.height() + 120)
    return window, control, before, room


def show(window: QWidget, before: QPushButton) -> Any:
    window.show()
    QTest.qWaitForWindowExposed(window)
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    before.setFocus()
    return window.windowHandle()


def film(job: dict, backdrop: str) -> list:
    """Frames of a change of state, with the clock of all controls held."""
    window, control, before, _ = placed(job, backdrop)
    room = control.box().toRect().translated(control.pos()).marginsAdded(
        QMargins(*job["margins"]))
    runtime().set_reduced_motion(False)
    at = [0.0]
    runtime().clock().now = lambda: at[0]
    handle = show(window, before)
    QTest.mouseMove(handle, QPoint(2, 2))
    start, goal = (set(flags) for flags in job["way"])
    for flags, was in ((start, set()), (goal, start)):
        window.grab(room)
        at[0] += 1000
        window.grab(room)  # what moved till now has settled
        bring(handle, control, before, was, flags, job["place"])
    for cover in window.findChildren(QWidget):
        if type(cover).__name__ == "Iris":
            cover.hide()  # what lies beneath is compared
    frames, begun = [], at[0]
    window.grab(room)
    turns_at = job["turns_at"]
    for moment in job["moments"]:
        if turns_at is not None and moment >= turns_at:
            at[0], turns_at = begun + turns_at, None
            bring(handle, control, before, goal, start, job["place"])
            window.grab(room)
        at[0] = begun + moment
        frames.append(window.grab(room).toImage())
    if control.isDown():
        QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=QPoint(2, 2))
    window.close()
    window.deleteLater()
    return frames


def bring(
    handle: Any, control: Any, before: QPushButton, was: set, flags: set, place: list
) -> None:
    """From some states to others, by what a person or the application does; the pointer is at a
    place in px of the box.
    """
    middle = control.mapTo(
        control.window(), (control.box().topLeft() + QPointF(*place)).toPoint())
    if "pressed" in was - flags:
        QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=middle)
    if ("disabled" in was) != ("disabled" in flags):
        control.setEnabled("disabled" not in flags)
    if ("checked" in was) != ("checked" in flags):
        control.setChecked("checked" in flags)
    if ("busy" in was) != ("busy" in flags):
        control.setBusy("busy" in flags)
    if "focus" in flags - was:
        before.setFocus()
        QTest.keyClick(handle, Qt.Key.Key_Tab)
    elif "focus" in was - flags:
        before.setFocus()
    if ("hover" in was) != ("hover" in flags):
        QTest.mouseMove(handle, middle if "hover" in flags else QPoint(2, 2))
    if "pressed" in flags - was:
        QTest.mousePress(handle, Qt.MouseButton.LeftButton, pos=middle)


def shoot(job: dict, backdrop: str) -> tuple:
    """Shows the control on a plain window and brings the state about by real input."""
    window, control, before, room = placed(job, backdrop)
    bleed = control.bleed()
    if hasattr(runtime(), "set_reduced_motion"):  # else nothing moves
        runtime().set_reduced_motion(True)  # wanted is how it ends
    signals: list[str] = []
    for name in ("entered", "left", "pressed", "released", "clicked"):
        getattr(control, name).connect(lambda *_, name=name: signals.append(name))
    flags = set(job["state"].split("+"))
    if "checked" in flags:
        control.setChecked(True)
    if "busy" in flags:
        control.setBusy(True)
    control.setEnabled("disabled" not in flags)
    handle = show(window, before)
    middle = control.mapTo(window, control.box().center().toPoint())
    QTest.mouseMove(handle, QPoint(2, 2))
    box = control.box()
    hits = [_answers(handle, control, x + box.x(), y + box.y()) for x, y in job["places"]]
    QTest.mouseMove(handle, QPoint(2, 2))
    # Keys first: a press takes the focus, too, and then it is not the keyboard's.
    if "focus" in flags:
        QTest.keyClick(handle, Qt.Key.Key_Tab)
    if flags & {"hover", "pressed", "disabled"}:
        QTest.mouseMove(handle, middle)
    if flags & {"pressed", "disabled"}:
        QTest.mousePress(handle, Qt.MouseButton.LeftButton, pos=middle)
    QApplication.processEvents()
    picture = window.grab(room).toImage()
    if flags & {"pressed", "disabled"}:
        QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=middle)
    QTest.mouseMove(handle, QPoint(2, 2))
    window.close()
    window.deleteLater()
    report = {
        "box": [bleed.left() + box.x(), bleed.top() + box.y(), box.width(), box.height()],
        "signals": signals, "hits": hits,
        "text": control.plain_text() if job["text"] is None else None}
    return picture, report


def _answers(handle: Any, control: Any, x: float, y: float) -> bool:
    """Whether the control says that the pointer is inside, once it is there."""
    QTest.mouseMove(handle, control.mapTo(control.window(), QPoint(round(x), round(y))))
    QApplication.processEvents()
    return "hover" in control.states()


def main() -> None:
    folder = Path(sys.argv[1])
    work = json.loads((folder / "jobs.json").read_text())
    application = QApplication([])
    application.setQuitOnLastWindowClosed(False)
    for at, job in enumerate(work["jobs"]):
        if "way" in job:
            for number, frame in enumerate(film(job, work["backdrop"])):
                frame.save(str(folder / f"{at}-{number}.png"))
            print("shot", at + 1, flush=True)
            continue
        picture, report = shoot(job, work["backdrop"])
        picture.save(str(folder / f"{at}.png"))
        (folder / f"{at}.json").write_text(json.dumps(report))
        print("shot", at + 1, flush=True)


if __name__ == "__main__":
    main()
