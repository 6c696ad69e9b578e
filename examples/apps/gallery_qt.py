"""Every control of a kit in every layout, state, size, direction and scheme.

First:  ./start export KIT --target qtwidgets --out examples/apps/controls
Then:   python gallery_qt.py [FOLDER], which writes each page as a picture, with a list of what
        stands where.
"""

import json
import sys
import warnings
from pathlib import Path

import controls
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor, QPalette
from PySide6.QtWidgets import (
    QApplication,
    QFormLayout,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QTabWidget,
    QToolBar,
    QVBoxLayout,
    QWidget,
)

GROUND, ROOM = "#E9E2D3", 48
NAMES = controls.__all__
WIDER = (0, 40, 120)


def made(name, parent, state="rest"):
    """A control in a state; what its kit requires is left out on purpose."""
    control = getattr(controls, name)(parent)
    control.setChecked("checked" in state)
    control.setDown("pressed" in state)
    control.setEnabled("disabled" not in state)
    control.setProperty("state", state)
    return control


def page():
    body = QWidget()
    body.setAutoFillBackground(True)
    palette = body.palette()
    palette.setColor(QPalette.ColorRole.Window, QColor(GROUND))
    body.setPalette(palette)
    return body


def states():
    body, grid = page(), QGridLayout()
    grid.setSpacing(ROOM)
    for row, name in enumerate(NAMES):
        grid.addWidget(QLabel(getattr(controls, name).design.name), row, 0)
        for column, state in enumerate(("rest", "pressed", "disabled", "checked")):
            if state != "checked" or "checked" in getattr(controls, name).design.states:
                grid.addWidget(made(name, body, state), row, column + 1)
    body.setLayout(grid)
    return body


def sizes():
    body, grid = page(), QGridLayout()
    grid.setSpacing(ROOM)
    for row, name in enumerate(NAMES):
        for column, more in enumerate(WIDER):
            control = made(name, body)
            hint = control.sizeHint()
            control.setFixedSize(hint.width() + more, hint.height() + more // 8)
            grid.addWidget(control, row, column)
    body.setLayout(grid)
    return body


def layouts():
    body, column = page(), QVBoxLayout()
    bar = QToolBar()
    for name in NAMES[:4]:
        bar.addWidget(made(name, body))
    column.addWidget(bar)
    form = QFormLayout()
    for name in NAMES:
        row = QHBoxLayout()
        row.addWidget(made(name, body))
        row.addWidget(QPushButton("beside"))
        form.addRow(getattr(controls, name).design.name, QLineEdit())
        form.addRow("", row)
    form.setVerticalSpacing(ROOM // 2)
    column.addLayout(form)
    body.setLayout(column)
    return body


def right_to_left():
    body = states()
    body.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
    return body


def schemes():
    body, row = page(), QHBoxLayout()
    every = sorted({scheme for name in NAMES for scheme in getattr(controls, name).design.schemes})
    for scheme in every or [""]:
        column = QVBoxLayout()
        column.setSpacing(ROOM)
        column.addWidget(QLabel(scheme or "one scheme"))
        for name in NAMES:
            control = made(name, body)
            if scheme in control.design.schemes:
                control.setScheme(scheme)
                control.setProperty("scheme", scheme)
            column.addWidget(control)
        row.addLayout(column)
    body.setLayout(row)
    return body


PAGES = {"States": states, "Sizes": sizes, "Layouts": layouts, "Right to left": right_to_left,
         "Schemes": schemes}


def main():
    application = QApplication(sys.argv)
    warnings.simplefilter("ignore")  # what is required is missing on purpose
    tabs, bodies = QTabWidget(), {}
    for title, make in PAGES.items():
        area = QScrollArea(widgetResizable=True)
        bodies[title] = make()
        bodies[title].layout().setContentsMargins(ROOM, ROOM, ROOM, ROOM)
        area.setWidget(bodies[title])
        tabs.addTab(area, title)
    tabs.resize(1100, 800)
    tabs.show()
    if len(sys.argv) < 2:
        return application.exec()
    if hasattr(controls.runtime, "set_reduced_motion"):  # where something moves
        controls.runtime.set_reduced_motion(True)  # pictures of what stands still
    folder, stands = Path(sys.argv[1]), []
    for at, (title, body) in enumerate(bodies.items()):
        tabs.setCurrentIndex(at)
        application.processEvents()
        body.grab().save(str(folder / f"{title}.png"))
        for control in body.findChildren(QPushButton):
            if hasattr(control, "design"):
                corner = control.mapTo(body, QPoint(0, 0))
                stands.append([title, type(control).__name__, control.property("state"),
                               control.property("scheme") or "", corner.x(), corner.y(),
                               control.width(), control.height()])
    (folder / "stands.json").write_text(json.dumps(stands))
    return 0


if __name__ == "__main__":
    sys.exit(main())
