"""Uses generated Qt controls in this process as people and applications do, and says what they did.
Knows nothing of Mektel.

Usage: try_controls.py FOLDER, where FOLDER/jobs.json lists what to try; writes N.json, and N-M.png
for each scheme.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from player import Player  # type: ignore[import-not-found]
from PySide6.QtCore import QEvent, QMargins, QPoint, Qt
from PySide6.QtGui import QAccessible
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget
from run_controls import placed, runtime, show  # type: ignore[import-not-found]

SIGNALS = ("clicked", "toggled", "longPressed")
LEFT, RIGHT = Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton
# Of its width, what a control is left with to see what a text does that has too little room.
NARROW = 0.55


class Stage:
    """A control of a job on a window of its own."""

    def __init__(self, job: dict[str, Any], backdrop: str) -> None:
        self.window, self.control, self.before, _ = placed(job, backdrop)
        if hasattr(runtime(), "set_reduced_motion"):  # else nothing moves
            runtime().set_reduced_motion(True)
        self.handle = show(self.window, self.before)
        self.room = self.control.box().toRect().translated(self.control.pos()).marginsAdded(
            QMargins(*map(round, job["margins"])))
        self.middle = self.control.mapTo(
            self.window, self.control.box().center().toPoint())
        self.heard: list[str] = []
        for name in SIGNALS:
            if hasattr(self.control, name):
                getattr(self.control, name).connect(lambda *_, name=name: self.heard.append(name))

    def point(self, inside: bool) -> None:
        QTest.mouseMove(self.handle, self.middle if inside else QPoint(2, 2))
        QApplication.processEvents()

    def picture(self) -> Any:
        return self.window.grab(self.room).toImage()

    def close(self) -> None:
        self.window.close()
        self.window.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def played(job: dict[str, Any], trace: dict[str, Any], backdrop: str) -> list[list[Any]]:
    stage = Stage(job, backdrop)
    control = stage.control
    player = Player(control, stage.middle, stage.before, stage.handle, control.states,
                    getattr(control, "setBusy", print))
    player.heard = stage.heard
    steps = player.play(trace["steps"])
    stage.close()
    return steps


def accessible(control: QWidget) -> dict[str, Any]:
    """What a screen reader is told."""
    interface = QAccessible.queryAccessibleInterface(control)
    state = interface.state()
    return {
        "name": interface.text(QAccessible.Text.Name), "role": interface.role().name,
        "is disabled": bool(state.disabled), "can be checked": bool(state.checkable),
        "is checked": bool(state.checked), "can take the focus": bool(state.focusable)}


def ink(stage: Stage, text: str) -> tuple[int, int]:
    """The first and last pixel column of the control's geometry in which a text shows."""
    control = stage.control
    control.setText(text.replace("&", "&&"))
    written = stage.window.grab(control.geometry()).toImage()
    control.setText("")
    blank = stage.window.grab(control.geometry()).toImage()
    columns = [x for x in range(written.width()) if any(
        written.pixel(x, y) != blank.pixel(x, y) for y in range(written.height()))]
    return (columns[0], written.width() - 1 - columns[-1]) if columns else (-1, -1)


def facts_of(job: dict[str, Any], backdrop: str, out: str) -> dict[str, Any]:
    """What it is and does apart from the traces."""
    stage = Stage(job, backdrop)
    control = stage.control
    hint, least, policy = control.sizeHint(), control.minimumSizeHint(), control.sizePolicy()
    facts: dict[str, Any] = {
        "accessibility": accessible(control), "focus policy": control.focusPolicy().name,
        "size policy": [policy.horizontalPolicy().name, policy.verticalPolicy().name],
        "size hint": [hint.width(), hint.height()],
        "minimum size hint": [least.width(), least.height()], "tool tip": control.toolTip()}
    stage.point(False)
    stage.point(True)
    facts["cursor"] = control.cursor().shape().name
    QTest.mouseClick(stage.handle, RIGHT, pos=stage.middle)
    QTest.mouseClick(stage.handle, Qt.MouseButton.MiddleButton, pos=stage.middle)
    facts["signals of other mouse buttons"] = stage.heard[:]
    control.setEnabled(False)
    QApplication.processEvents()
    facts["cursor while disabled"] = control.cursor().shape().name
    facts["accessibility while disabled"] = accessible(control)["is disabled"]
    control.setEnabled(True)
    if control.isCheckable():
        control.setChecked(True)
        facts["accessibility while checked"] = accessible(control)["is checked"]
        control.setChecked(False)
    stage.point(False)
    for number, scheme in enumerate(job["schemes"]):
        control.setScheme(scheme)
        QApplication.processEvents()
        stage.picture().save(f"{out}-{number}.png")
    if job["schemes"]:
        control.setScheme(job["schemes"][0])
    if job["other_text"]:
        facts |= said(stage, job["other_text"])
    stage.close()
    return facts


def said(stage: Stage, text: str) -> dict[str, Any]:
    """What another text does, and the same where it has too little room."""
    control, before = stage.control, stage.picture()
    control.setText(text.replace("&", "&&"))
    QApplication.processEvents()
    facts = {"text that is set": control.plain_text(),
             "accessible name of a text that is set": accessible(control)["name"],
             "a text that is set is shown": stage.picture() != before}
    control.setFixedWidth(round(control.sizeHint().width() * NARROW))
    QApplication.processEvents()
    facts["tool tip of a text without room"] = control.toolTip()
    first, last = ink(stage, text)
    facts["a text without room stays inside"] = first > 0 and last > 0
    return facts


def main() -> None:
    folder = Path(sys.argv[1])
    work = json.loads((folder / "jobs.json").read_text())
    application = QApplication([])
    application.setQuitOnLastWindowClosed(False)
    QAccessible.setActive(True)
    for at, job in enumerate(work["jobs"]):
        backdrop = work["backdrop"]
        report = {"traces": [played(job, trace, backdrop) for trace in job["traces"]],
                  "facts": facts_of(job, backdrop, str(folder / str(at)))}
        (folder / f"{at}.json").write_text(json.dumps(report))
        print("shot", at + 1, flush=True)


if __name__ == "__main__":
    main()
