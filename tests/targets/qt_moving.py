"""Moves a package of shipped controls in a window by real input, with the binding that is named.
Knows nothing of Mektel.

Usage: qt_moving.py BINDING PART MODULE [rtl], run beside the package or module; prints JSON.
"""

from __future__ import annotations

import importlib
import json
import os
import random
import sys
import traceback
import warnings
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

BINDING = sys.argv[1]
QtCore, QtGui, QtWidgets, QtTest = (
    importlib.import_module(f"{BINDING}.{name}")
    for name in ("QtCore", "QtGui", "QtWidgets", "QtTest"))
QTest, Qt = QtTest.QTest, QtCore.Qt
LEFT = Qt.MouseButton.LeftButton
results: dict[str, Any] = {}
errors: list[str] = []


class Stage:
    """A window with every control, and a clock that is set by hand if ``held``."""

    def __init__(self, controls: Any, held: bool, names: list[str] | None = None) -> None:
        self.window = QtWidgets.QWidget()
        if "rtl" in sys.argv:
            self.window.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            self.made = [getattr(controls, name)(self.window)
                         for name in names or controls.__all__]
        for at, control in enumerate(self.made):
            control.move(40 + at % 4 * 230, 40 + at // 4 * 130)
            control.resize(control.sizeHint())
        self.window.resize(960, 720)
        self.runtime = importlib.import_module(f"{controls.__name__}.runtime") if hasattr(
            controls, "__path__") else controls
        self.at = 10.0
        if held:
            self.runtime.clock().now = lambda: self.at
        self.window.show()
        QtWidgets.QApplication.processEvents()

    def middle(self, control: Any) -> Any:
        return control.mapTo(self.window, control.box().center().toPoint())

    def hover(self, control: Any) -> None:
        QTest.mouseMove(self.window.windowHandle(), self.middle(control))

    def away(self) -> None:
        QTest.mouseMove(self.window.windowHandle(), QtCore.QPoint(2, 2))

    def press(self, control: Any) -> None:
        QTest.mousePress(self.window.windowHandle(), LEFT, pos=self.middle(control))

    def release(self, control: Any) -> None:
        QTest.mouseRelease(self.window.windowHandle(), LEFT, pos=self.middle(control))

    def picture(self, control: Any) -> Any:
        """What is seen of a control, with what lies beyond its box."""
        room = control.geometry().marginsAdded(control.bleed())
        image = self.window.grab(room).toImage().convertToFormat(
            QtGui.QImage.Format.Format_RGBA8888)
        bits = image.constBits()
        content = bits.asstring(image.sizeInBytes()) if hasattr(bits, "asstring") else bytes(bits)
        return np.frombuffer(content, np.uint8).reshape(image.height(), -1).astype(int)


def hands() -> None:
    """Hovered, pressed, let go, switched off and on, each control of its own: then all stand
    still, as they look when they are drawn for the first time.
    """
    stage = Stage(controls, held=False)
    moved = []
    for control in stage.made:
        stage.hover(control)
        QTest.qWait(30)
        stage.press(control)
        QTest.qWait(40)
        moved.append(control.moving() is not None)
        stage.release(control)
        QTest.qWait(20)
        if control.isCheckable():
            control.setChecked(False)
        control.setEnabled(False)
        QTest.qWait(20)
        control.setEnabled(True)
    stage.away()
    for control in stage.made:
        control.clearFocus()
    until = QtCore.QDeadlineTimer(8000)
    still = [control for control in stage.made if not endless(control)]
    while any(control.moving() is not None for control in still) and not until.hasExpired():
        QTest.qWait(30)
    ended = [stage.picture(control) for control in still]
    drawing.pictures._kept.clear()
    for control in still:
        control.last_paint = None
    results["moved"] = sum(moved)
    results["unlike"] = [
        type(control).__name__ for control, before in zip(still, ended, strict=True)
        if np.abs(stage.picture(control) - before).max() > 0]


def endless(control: Any) -> bool:
    return any(not swing.during for swing in control.design.feel.swings)


def plans() -> None:
    """A frame that is painted by the plan of the one before is that painted without one."""
    stage = Stage(controls, held=True)
    worst = {}
    for control in stage.made:
        acts: list[Callable[[], None]] = [
            lambda c=control: stage.hover(c), lambda c=control: stage.press(c),
            lambda c=control: stage.release(c), stage.away]
        for act in acts:
            act()
            for step in (0.0, 0.016, 0.05, 0.12):
                stage.at += step
                planned = stage.picture(control)
                stage.picture(control)  # now there is a plan
                again = stage.picture(control)
                control._player._plans.clear()
                anew = stage.picture(control)
                name = type(control).__name__
                worst[name] = max(worst.get(name, 0), int(np.abs(again - anew).max()),
                                  int(np.abs(planned - anew).max()))
            stage.at += 3.0
            stage.picture(control)
        if control.isCheckable():
            control.setChecked(False)
    results["unlike"] = {name: most for name, most in worst.items() if most > 2}
    results["tried"] = len(worst)


def at_random() -> None:
    """Whatever is done to a control, and whenever: no frame fails, and once all has settled it
    looks as its states do when they are drawn for the first time.
    """
    dice = random.Random(int(sys.argv[4]))
    stage = Stage(controls, held=True)
    results["unlike"] = []
    for _ in range(int(sys.argv[5])):
        control = dice.choice(stage.made)
        was_down = False
        for _ in range(dice.randint(2, 9)):
            if was_down:
                stage.release(control)
            act = dice.choice(ACTS)
            act(stage, control)
            was_down = act is Stage.press
            for _ in range(dice.randint(0, 3)):
                stage.at += dice.choice((0.0, 0.004, 0.016, 0.07, 0.4))
                stage.picture(control)
        if was_down:
            stage.release(control)
        for cover in stage.window.findChildren(QtWidgets.QWidget):
            if type(cover).__name__ == "Iris":
                cover.hide()
        stage.picture(control)  # what was done last begins to move
        stage.at += 6
        settled, states = stage.picture(control), sorted(control.states())
        if control.moving() is not None and not playing(control):
            results["unlike"].append([type(control).__name__, "moves", states])
        drawing.pictures._kept.clear()
        control.last_paint = None
        control._player.end()
        if not playing(control) and np.abs(stage.picture(control) - settled).max() > 0:
            results["unlike"].append([type(control).__name__, "looks", states])


ACTS: list[Callable[[Stage, Any], object]] = [
    Stage.hover, lambda stage, _: stage.away(), Stage.press,
    lambda _, control: control.setEnabled(not control.isEnabled()),
    lambda _, control: control.setFocus(Qt.FocusReason.TabFocusReason),
    lambda _, control: control.clearFocus(),
    lambda _, control: control.resize(control.sizeHint() + QtCore.QSize(17, 7)),
    lambda _, control: control.setProperty("busy", not control.property("busy"))]


def playing(control: Any) -> bool:
    """Whether something may move without end, or the hand keep an answer."""
    swings, states = control.design.feel.swings, control.states()
    led = any(answer["kind"] in ("follow", "lean") for answer in control.design.feel.answers)
    return any(states.issuperset(swing.during) for swing in swings) or (led and "hover" in states)


def unfinished() -> None:
    """A very large control whose state changes again and again before all of it was made."""
    stage = Stage(controls, held=False, names=["BoardButton", "HornButton"])
    stage.runtime.set_reduced_motion(True)
    stage.window.resize(2300, 1300)
    for control in stage.made:
        control.setGeometry(80, 80, 2000, 1100)
        control.raise_()
        for down in (True, False, True, False):
            control.setDown(down)
            QTest.qWait(60)
        until = QtCore.QDeadlineTimer(10_000)
        while control.resizing is not None and not until.hasExpired():
            QTest.qWait(20)
        seen = stage.picture(control)
        drawing.pictures._kept.clear()
        control.last_paint = None
        whole = stage.picture(control)
        results.setdefault("unlike", []).append(int(np.abs(seen - whole).max()))
        control.hide()


def frames() -> None:
    """Pictures of a press at given moments, as numbers: a package and a module are alike."""
    stage = Stage(controls, held=True, names=["BoardButton", "SlowButton", "CargoButton"])
    for control in stage.made:
        stage.hover(control)
        stage.at += 2
        stage.picture(control)
        stage.press(control)
        for step in (0.0, 0.02, 0.06, 0.3, 2.0):
            stage.at += step
            results.setdefault(type(control).__name__, []).append(
                [int(stage.picture(control).sum()), control.moving() is not None])
        stage.release(control)
        stage.away()
        stage.at += 3


def at_once() -> None:
    """In a package in which nothing moves, states change at once, and there is no clock."""
    stage = Stage(controls, held=False)
    changed = []
    for control in stage.made:
        rest = stage.picture(control)
        stage.hover(control)
        over = stage.picture(control)
        stage.press(control)
        changed.append(bool(np.abs(over - rest).any() and np.abs(
            stage.picture(control) - over).any()))
        stage.release(control)
        stage.away()
        results["moving"] = results.get("moving", False) or control.moving() is not None
    results["changed"] = sum(changed)
    results["clock"] = hasattr(stage.runtime, "clock")


PARTS: dict[str, Callable[[], None]] = {
    "hands": hands, "plans": plans, "at_random": at_random, "unfinished": unfinished,
    "frames": frames, "at_once": at_once}


if __name__ == "__main__":
    sys.path.insert(0, str(Path.cwd()))
    sys.excepthook = lambda *error: errors.append("".join(traceback.format_exception(*error)))
    application = QtWidgets.QApplication([])
    controls = importlib.import_module(sys.argv[3])
    drawing = importlib.import_module(f"{sys.argv[3]}.runtime.drawing") if hasattr(
        controls, "__path__") else controls
    PARTS[sys.argv[2]]()
    print(json.dumps(results | {"errors": errors}))
    sys.stdout.flush()
    os._exit(0)
