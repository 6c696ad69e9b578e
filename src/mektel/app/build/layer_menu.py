"""What can be done with a layer: the menu of a card, and the clipboard."""

from __future__ import annotations

from PySide6.QtCore import QMimeData, Qt
from PySide6.QtWidgets import QApplication, QMenu, QWidget

from mektel.app.widgets.menu import add_action
from mektel.app.workbench import Workbench
from mektel.core.kit import edit as edits
from mektel.core.kit import parse_flags

LAYER_TEXT = "application/x-mektel-layer+json"  # a copied layer


def layer_menu(bench: Workbench, layer_id: str, parent: QWidget) -> QMenu:
    control = bench.control
    assert control is not None
    name = control.layer(layer_id).name
    ids = [layer.id for layer in control.layers]
    at = ids.index(layer_id)
    menu = QMenu(parent)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    back = add_action(menu, "Move toward the back", move_layer, bench, layer_id, at - 1)
    front = add_action(menu, "Move toward the front", move_layer, bench, layer_id, at + 1)
    back.setEnabled(at > 0)
    front.setEnabled(at < len(ids) - 1)
    add_action(menu, "Duplicate", bench.edit, f"duplicate {name.lower()}",
               lambda kit: edits.copy_layer(kit, bench.control_id, layer_id))
    menu.addSeparator()
    add_action(menu, "Copy\tCtrl+C", copy_to_clipboard, bench, layer_id)
    paste = add_action(menu, "Paste in front\tCtrl+V", paste_from_clipboard, bench)
    paste.setEnabled(bool(copied_layer()))
    menu.addSeparator()
    alone = bench.selection.solo == layer_id
    title = "Show all layers\tS" if alone else "Show alone\tS"
    add_action(menu, title, solo_layer, bench, layer_id)
    menu.addSeparator()
    add_action(menu, "Remove", remove_layer, bench, layer_id)
    return menu


def solo_layer(bench: Workbench, layer_id: str) -> None:
    bench.view(solo="" if bench.selection.solo == layer_id else layer_id)


def toggle_layer(bench: Workbench, layer_id: str) -> None:
    control = bench.control
    assert control is not None
    shown = control.part_in(layer_id, parse_flags(bench.state)).visible
    step = f"{'hide' if shown else 'show'} {control.layer(layer_id).name.lower()}"
    bench.set_value(layer_id, "visible", not shown, step)


def copy_to_clipboard(bench: Workbench, layer_id: str) -> None:
    data = QMimeData()
    data.setData(LAYER_TEXT, bench.copy_layer(layer_id).encode())
    QApplication.clipboard().setMimeData(data)


def paste_from_clipboard(bench: Workbench) -> None:
    text = copied_layer()
    if text:
        bench.paste_layer(text)


def copied_layer() -> str:
    """The layer on the clipboard as text, or nothing."""
    data = QApplication.clipboard().mimeData()
    if data is None or not data.hasFormat(LAYER_TEXT):
        return ""
    return bytes(data.data(LAYER_TEXT).data()).decode("utf-8", "replace")


def remove_layer(bench: Workbench, layer_id: str) -> None:
    control = bench.control
    assert control is not None
    bench.edit(
        f"remove {control.layer(layer_id).name.lower()}",
        lambda kit: edits.remove_layer(kit, bench.control_id, layer_id),
    )


def move_layer(bench: Workbench, layer_id: str, position: int) -> None:
    control = bench.control
    assert control is not None
    bench.edit(
        f"move {control.layer(layer_id).name.lower()}",
        lambda kit: edits.move_layer(kit, bench.control_id, layer_id, position),
    )
