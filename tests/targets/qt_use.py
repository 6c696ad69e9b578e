"""Uses a package of shipped controls as applications do, with the binding that is named. Knows
nothing of Mektel.

Usage: qt_use.py BINDING PART, run beside the package; prints JSON.
"""

from __future__ import annotations

import gc
import importlib
import json
import os
import sys
import warnings
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

BINDING = sys.argv[1] if __name__ == "__main__" else "PySide6"
QtCore, QtGui, QtWidgets, QtTest = (
    importlib.import_module(f"{BINDING}.{name}")
    for name in ("QtCore", "QtGui", "QtWidgets", "QtTest"))
QTest, Qt = QtTest.QTest, QtCore.Qt
application: Any = None
controls: Any = None
results: dict[str, Any] = {}


def every(parent: Any) -> list[Any]:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return [getattr(controls, name)(parent) for name in controls.__all__]


def sizes() -> None:
    """Anything from nothing to large, at once and step by step, and a height that goes to none."""
    window = QtWidgets.QWidget()
    made = every(window)
    window.resize(900, 700)
    window.show()
    for size in ((0, 0), (1, 1), (3, 90), (120, 30), (7, 7), (300, 12), (900, 700)):
        for control in made:
            control.setFixedSize(*size)
        application.processEvents()
        window.grab()
    for control in made:
        control.setMaximumSize(900, 700)
        shrink = QtCore.QPropertyAnimation(control, b"maximumHeight", control)
        shrink.setStartValue(60)
        shrink.setEndValue(0)
        shrink.setDuration(60)
        control.setMinimumSize(0, 0)
        shrink.start()
    until = QtCore.QDeadlineTimer(10_000)
    while any(control.height() for control in made) and not until.hasExpired():
        QTest.qWait(20)
    results["heights"] = sorted({control.height() for control in made})


def layouts() -> None:
    """The box lines up with Qt's own widgets; what lies beyond it is painted and takes no click."""
    window = QtWidgets.QWidget()
    column = QtWidgets.QVBoxLayout(window)
    column.setContentsMargins(40, 40, 40, 40)
    edit, row = QtWidgets.QLineEdit(), QtWidgets.QHBoxLayout()
    board, push = controls.BoardButton(), QtWidgets.QPushButton("push")
    horn, ramp, night = controls.HornButton(), controls.RampButton(), controls.NightWatchButton()
    row.addWidget(board)
    row.addWidget(push)
    column.addWidget(edit)
    column.addLayout(row)
    for control in (horn, ramp, night):
        column.addWidget(control)
    window.resize(500, 500)
    window.show()
    QTest.qWaitForWindowActive(window)
    results["left"] = board.x() - edit.x()
    results["middles"] = board.geometry().center().y() - push.geometry().center().y()
    results["kept"] = [control.size() == control.sizeHint() for control in (horn, ramp)]
    ground = window.palette().color(QtGui.QPalette.ColorRole.Window)
    below = QtCore.QPoint(board.geometry().center().x(), board.geometry().bottom() + 4)
    results["shadow"] = window.grab().toImage().pixelColor(below) != ground
    pressed: list[int] = []
    board.clicked.connect(lambda: pressed.append(1))
    handle = window.windowHandle()
    QTest.mouseClick(handle, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, below)
    results["clicked beyond"] = len(pressed)
    painted: list[int] = []
    shown = importlib.import_module("controls.runtime.shown")
    paint = shown.paint
    shown.paint = lambda control, painter: (painted.append(1), paint(control, painter))
    centre = board.geometry().center()
    QTest.mouseMove(handle, centre)
    until = QtCore.QDeadlineTimer(10_000)
    while painted and not until.hasExpired():  # it comes to its look for hover
        painted.clear()
        QTest.qWait(200)
    for step in range(6):
        QTest.mouseMove(handle, centre + QtCore.QPoint(step, 1))
        application.processEvents()
    results["painted on moves"] = len(painted)
    board.update()
    application.processEvents()
    results["painted on an update"] = len(painted) > 0
    area = QtWidgets.QScrollArea()
    inner = QtWidgets.QWidget()
    stack = QtWidgets.QVBoxLayout(inner)
    for _ in range(12):
        stack.addWidget(controls.BoardButton())
    area.setWidget(inner)
    area.resize(260, 200)
    area.show()
    before = area.grab().toImage()
    area.verticalScrollBar().setValue(31)
    application.processEvents()
    after = area.grab().toImage()
    strip = QtCore.QRect(2, 40, 200, 100)
    results["scrolled"] = after.copy(strip) == before.copy(strip.translated(0, 31))
    faded = QtWidgets.QGraphicsOpacityEffect(night)
    night.setGraphicsEffect(faded)
    application.processEvents()
    colour = window.grab().toImage().pixelColor(night.geometry().center())
    results["under another effect"] = colour != ground


def manners() -> None:
    """What a developer who knows Qt's buttons expects."""
    window = QtWidgets.QDialog()
    column = QtWidgets.QVBoxLayout(window)
    edit = QtWidgets.QLineEdit()
    passage = controls.PassageButton("&Go", window, on_press=lambda: heard.append("go"))
    board = controls.BoardButton(window, objectName="board", default=True)
    heard: list[str] = []
    board.clicked.connect(lambda: heard.append("board"))
    for widget in (edit, passage, board):
        column.addWidget(widget)
    window.show()
    QTest.qWaitForWindowActive(window)
    edit.setFocus()
    QTest.keyClick(edit, Qt.Key.Key_Return)
    QTest.keyClick(window, Qt.Key.Key_G, Qt.KeyboardModifier.AltModifier)
    QTest.qWait(200)
    results["heard"] = heard
    results["name"] = board.objectName()
    results["mnemonic"] = [passage.shortcut().toString(), passage.plain_text()]
    passage.setMnemonics(False)
    results["letter"] = [passage.shortcut().toString(), passage.plain_text()]
    colours: list[str] = []
    passage.faceChanged.connect(lambda colour: colours.append(colour.name()))
    passage.setProperty("face", QtGui.QColor("#ff0000"))
    passage.setStyleSheet("PassageButton { qproperty-face: #00ff00 }")
    application.processEvents()
    results["colours"] = colours
    swell = QtCore.QPropertyAnimation(passage, b"thickness", passage)
    swell.setStartValue(1.0)
    swell.setEndValue(9.0)
    swell.setDuration(60)
    swell.start()
    until = QtCore.QDeadlineTimer(10_000)
    while passage.property("thickness") < 9 and not until.hasExpired():
        QTest.qWait(20)
    results["animated"] = passage.property("thickness")
    with warnings.catch_warnings(record=True) as refused:
        warnings.simplefilter("always")
        board.setIcon(QtGui.QIcon())
        board.setFont(QtGui.QFont())
    results["refused"] = [str(warning.message).split(" is ")[0] for warning in refused]
    board.setText("A long label that has no room")
    board.setFixedWidth(100)
    application.processEvents()
    results["dotted"] = board.toolTip()
    board.setFixedWidth(400)
    application.processEvents()
    results["whole"] = board.toolTip()
    high = board.sizeHint().height()
    board.setText("One\ntwo\nthree")
    results["lines"] = board.sizeHint().height() > high
    runtime = importlib.import_module("controls.runtime")
    results["names"] = sorted({
        name for kind in (runtime.BusyControl, runtime.LongPressControl) for name in dir(kind)
        if name.isidentifier() and name.islower() and not name.startswith("_")})
    faults: list[str] = []
    sys.excepthook = lambda kind, *_: faults.append(kind.__name__)
    board.setText("Broken")
    face = board.variant().parts(frozenset(board.states()))["face"]
    stops, face["stops"] = face["stops"], "none"
    while runtime.clock().runs:  # what moves is not drawn anew from that
        application.processEvents()
    board.repaint()
    face["stops"] = stops
    results["faults"] = sorted(set(faults))
    ramp = controls.RampButton(window)
    ramp.resize(ramp.sizeHint())
    left = ramp.grab().toImage()
    ramp.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
    other = ramp.grab().toImage()
    middle = ramp.height() // 2
    ends = [image.pixelColor(x, middle).name() for image in (left, other)
            for x in (ramp.height() // 2, ramp.width() - ramp.height() // 2)]
    results["thumb"] = [ends[0] == ends[3], ends[1] == ends[2], ends[0] != ends[1]]


def dragged() -> None:
    """Larger step by step: at once in a window, exact once it stays; a picture taken is exact."""
    importlib.import_module("controls.runtime").set_reduced_motion(True)
    results["rough"], results["taken"], results["stays"] = 0, [], []
    for name in controls.__all__:
        window, control = resizable(name, 500, 360)
        for step in range(1, 6):
            control.resize(control.width() + 9 * step, control.height() + 4 * step)
            application.processEvents()
        taken = window.grab().toImage()
        results["rough"] += seen(window) != taken.convertToFormat(seen(window).format())
        control.resize(control.width() + 40, control.height() + 30)
        application.processEvents()
        settle(control)
        if seen(window) != window.grab().toImage().convertToFormat(seen(window).format()):
            results["stays"].append(name)
        control.resize(control.width() - 40, control.height() - 30)
        forget(control)
        if taken != window.grab().toImage():
            results["taken"].append(name)
        window.close()


def large() -> None:
    """Larger than can be painted at once: coarse, then as a picture that is taken."""
    importlib.import_module("controls.runtime").set_reduced_motion(True)
    bytes_of = importlib.import_module("controls.runtime.qt").bytes_of
    results["coarse"], results["unlike"] = [], []
    for name in ("BoardButton", "HornButton", "FogButton", "RingUpButton", "RampButton"):
        window, control = resizable(name, 2200, 1300)
        control.resize(2000, 1100)
        application.processEvents()
        first = seen(window)
        settle(control)
        last = seen(window)
        forget(control)
        whole = window.grab().toImage().convertToFormat(last.format())
        results["coarse"].append(first != whole)
        one, other = (np.frombuffer(bytes_of(image), np.uint8).astype(int)
                      for image in (last, whole))
        results["unlike"].append(int(np.abs(one - other).max()))
        window.close()


def stretched() -> None:
    """A control at another size, with focus, as a picture beside its package."""
    importlib.import_module("controls.runtime").set_reduced_motion(True)
    name, (width, height, left, top) = sys.argv[3], map(int, sys.argv[4:8])
    window = QtWidgets.QWidget()
    palette = window.palette()
    palette.setColor(palette.ColorRole.Window, QtGui.QColor("#E9E2D3"))
    window.setPalette(palette)
    before = QtWidgets.QPushButton(window)
    before.setGeometry(-50, -50, 20, 20)
    control = getattr(controls, f"{name.capitalize()}Button")("", window)
    control.setGeometry(left, top, width, height)
    window.resize(width + 2 * left, height + 3 * top)
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    before.setFocus()
    QTest.keyClick(window.windowHandle(), QtCore.Qt.Key.Key_Tab)
    results["states"] = sorted(control.states())
    window.grab().save(f"{name}.png")


def resizable(name: str, width: int, height: int) -> tuple[Any, Any]:
    window = QtWidgets.QWidget()
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        control = getattr(controls, name)(window)
    control.move(60, 60)
    control.resize(control.sizeHint())
    window.resize(width, height)
    window.show()
    application.processEvents()
    return window, control


def seen(window: Any) -> Any:
    return window.screen().grabWindow(window.winId()).toImage()


def settle(control: Any) -> None:
    until = QtCore.QDeadlineTimer(10_000)
    while control.resizing is not None and not until.hasExpired():
        QTest.qWait(20)


def forget(control: Any) -> None:
    """Has it painted anew."""
    control.last_paint = None
    importlib.import_module("controls.runtime.drawing").pictures._kept.clear()


def many() -> None:
    """As many as asked for, of two kinds, through a hundred sizes: memory stays."""
    window = QtWidgets.QWidget()
    made = [kind(window) for kind in (controls.BoardButton, controls.NightWatchButton)
            for _ in range(int(sys.argv[3]) // 2)]
    for at, control in enumerate(made):
        control.setGeometry(at % 40 * 20, at // 40 * 20, 168, 48)
    window.resize(900, 700)
    window.show()
    window.grab()
    used = []
    for step in range(100):
        for control in made:
            control.resize(120 + step, 40 + step % 10)
        window.grab()
        if step in (49, 99):
            gc.collect()
            pages = int(Path("/proc/self/statm").read_text().split()[1])
            used.append(pages * os.sysconf("SC_PAGE_SIZE") / 2**20)
    results["megabytes"] = used


PARTS: dict[str, Callable[[], None]] = {
    "sizes": sizes, "layouts": layouts, "manners": manners, "dragged": dragged,
    "large": large, "stretched": stretched, "many": many}
if __name__ == "__main__":
    application = QtWidgets.QApplication([])
    sys.path.insert(0, ".")
    controls = importlib.import_module("controls")
    PARTS[sys.argv[2]]()
    print(json.dumps(results))
