"""Several windows beside each other, and drawings that are dropped on one of them."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication

from mektel.app.faults import faults
from mektel.app.main import make_window
from tests.slices import some_of

STATES = """<svg xmlns="http://www.w3.org/2000/svg" width="160" height="110">
    <g id="Default"><rect x="10" y="10" width="140" height="36" rx="8" fill="#2F6F88"/>
        <path d="M24 20l12 8-12 8z" fill="#fff"/></g>
    <g id="Over"><rect x="10" y="60" width="140" height="36" rx="8" fill="#3F86A2"/>
        <path d="M24 70l12 8-12 8z" fill="#F3C25B"/></g></svg>"""


def test_a_fault_is_told_in_the_windows_that_are_open(
    make, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(faults(), "places", [])
    other, hand = make(demo=False)
    one = make_window(None, False)
    styled, palette = [], QApplication.palette()
    with monkeypatch.context() as patch:
        patch.setattr(QApplication, "setStyleSheet", lambda _self, style: styled.append(style))
        third, _ = make(demo=False)
        assert not styled  # as they are styled already
        third.set_theme("dark")
        assert len(styled) == 1
    other.set_theme("desktop")
    QApplication.setPalette(palette)  # the dark one came without its style
    one._closing = True
    one.close()
    one.deleteLater()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    faults().report(ValueError("nothing of the window that is gone is touched"))
    hand.until(other.notice.isVisible)
    assert third.notice.isVisible() and "ValueError" in other.notice.details.text() + (
        other.notice.text.text())


def test_a_drawing_with_states_that_is_dropped_has_them(make, tmp_path: Path) -> None:
    window, hand = make(demo=False)
    path = tmp_path / "cast-off.svg"
    path.write_text(STATES, encoding="utf-8")
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    window.dropEvent(QDropEvent(QPointF(600, 400), Qt.DropAction.CopyAction, mime,
                                Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))
    hand.settle()
    control = window.bench.control
    assert control.name == "Cast off" and control.size == (140, 36)
    assert set(control.changes("hover")) == {layer.id for layer in control.layers[:2]}
    assert window.build.wall.tiles["hover"].isVisible()
    assert control.layers[1].outline.form == "path" and control.outline.corners == (8,) * 4
    window.bench.undo()
    assert window.bench.control is None


def test_no_row_is_cut_at_the_end(demo) -> None:
    """Of the shelf, the wall and the generated files, however high the window is; and a new
    control is in sight at once.
    """
    window, hand = demo
    shelf, wall = window.shelf, window.build.wall
    for height in some_of((760, 800, 700, 1080), 2):
        window.resize(1100, height)
        hand.settle()
        for area, rows in ((shelf._scroll, list(shelf.items.values())),
                           (wall, list(wall.tiles.values()))):
            room = area.viewport().height()
            bottoms = sorted({row.geometry().bottom() + 1 for row in rows})
            whole = [bottom for bottom in bottoms if bottom <= room]
            assert whole and (whole == bottoms or room - whole[-1] < len(whole)), (height, bottoms)
    window.resize(1100, 800)
    hand.choose(shelf.new_button.menu(), "Keycap")
    hand.until(lambda: "keycap" in shelf.items)
    new = shelf.items["keycap"]
    hand.until(lambda: new.visibleRegion().boundingRect().height() == new.height())
    kit = window.bench.kit
    window.bench.start(kit.model_copy(update={"controls": kit.controls[:4]}), None)
    window.go_to("Ship")
    files = window.ship.files
    hand.until(lambda: files.count() > 20, 60_000)
    hand.settle()
    row = files.sizeHintForRow(0)
    assert row > 0 and files.viewport().height() % row == 0 < files.verticalScrollBar().maximum()
