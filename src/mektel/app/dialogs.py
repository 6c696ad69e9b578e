"""The few places where a file must be named, and the one question before work would be lost."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from mektel.app.widgets.plain import question
from mektel.formats.kitfile import SUFFIX

KITS = f"Mektel kits (*{SUFFIX})"
SOURCES = "Drawings, style sheets and pictures (*.svg *.css *.png *.webp *.jpg *.jpeg)"
PICTURES = "Pictures (*.png *.webp *.jpg *.jpeg)"
SOUND_FILES = "Sounds (*.wav *.ogg *.oga *.flac)"
GESTURES = "Gestures (*.json)"
Take = Callable[[Path], object]


def _dialog(parent: QWidget, title: str, folder: Path, take: Take) -> QFileDialog:
    dialog = QFileDialog(parent, title, str(folder))
    # Our own look, and the same behaviour on every desktop.
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dialog.fileSelected.connect(lambda name: take(Path(name)))
    return dialog


def ask_open(parent: QWidget, title: str, names: str, folder: Path, take: Take) -> None:
    dialog = _dialog(parent, title, folder, take)
    dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
    dialog.setNameFilter(names)
    dialog.open()


def ask_open_several(
    parent: QWidget, title: str, names: str, folder: Path, take: Callable[[list[Path]], object]
) -> None:
    dialog = _dialog(parent, title, folder, lambda _: None)
    dialog.filesSelected.connect(lambda chosen: take([Path(name) for name in chosen]))
    dialog.setFileMode(QFileDialog.FileMode.ExistingFiles)
    dialog.setNameFilter(names)
    dialog.open()


def ask_save(
    parent: QWidget, proposed: Path, take: Take, title: str = "Save kit as", names: str = KITS,
) -> None:
    dialog = _dialog(parent, title, proposed.parent, take)
    dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
    dialog.setNameFilter(names)
    dialog.setDefaultSuffix(proposed.suffix.lstrip("."))
    dialog.selectFile(proposed.name)
    dialog.open()


def ask_folder(parent: QWidget, start: str, take: Take) -> None:
    dialog = _dialog(parent, "Folder to write to", Path(start), take)
    dialog.setFileMode(QFileDialog.FileMode.Directory)
    dialog.setOption(QFileDialog.Option.ShowDirsOnly)
    dialog.open()


def ask_unsaved(
    parent: QWidget, name: str, save: Callable[[], object], go_on: Callable[[], object]
) -> None:
    """Save, leave unsaved, or stay. Neither function is called for the last."""
    box = question(parent, "Unsaved changes", f"“{name}” has changes that are not saved.")
    saving = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
    leaving = box.addButton("Discard them", QMessageBox.ButtonRole.DestructiveRole)
    staying = box.addButton("Go back", QMessageBox.ButtonRole.RejectRole)
    box.setDefaultButton(saving)
    box.setEscapeButton(staying)

    def answered() -> None:
        if box.clickedButton() is saving:
            save()
        elif box.clickedButton() is leaving:
            go_on()

    box.finished.connect(lambda _: answered())
    box.open()
