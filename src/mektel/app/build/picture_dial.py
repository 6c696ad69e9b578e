"""Choosing a picture of the kit, or taking one in from a file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QMenu, QPushButton, QSizePolicy, QWidget

from mektel.app.dialogs import PICTURES, ask_open
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.menu import add_action
from mektel.app.workbench import Workbench


class PictureDial(Dial):
    def __init__(self, name: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.bench = bench
        self.button = QPushButton(self)
        self.button.setObjectName("quiet")
        self.button.setAccessibleName(name)
        self.button.setProperty("left", True)
        self.button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.button.clicked.connect(self._open)
        self._row.addWidget(self.button, 1)

    def show_value(self, value: str) -> None:
        names = {asset.id: asset.name for asset in self.bench.kit.assets}
        self.button.setText(f"{names.get(value, 'choose one')}  ▾")

    def _open(self) -> None:
        menu = QMenu(self)
        for asset in self.bench.kit.assets:
            add_action(menu, asset.name, self.changed.emit, asset.id, False)
        if self.bench.kit.assets:
            menu.addSeparator()
        add_action(menu, "Import picture (PNG)…", self._ask)
        menu.popup(self.button.mapToGlobal(self.button.rect().bottomLeft()))

    def _ask(self) -> None:
        ask_open(self.window(), "Import picture", PICTURES, self.bench.folder(), self._take)

    def _take(self, path: Path) -> None:
        self.bench.take_picture(path, self.bench.part_id)
