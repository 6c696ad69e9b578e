"""A newcomer’s first minutes: the walk along the route; and the window that is found again."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QDrag, QDragEnterEvent, QGuiApplication
from PySide6.QtWidgets import QApplication

from mektel.app.main import make_window
from mektel.app.settings import Settings
from mektel.app.widgets.colour_popover import ColourPopover
from mektel.core.look import resolve
from mektel.core.paint import render
from mektel.formats.css import control_from_css
from mektel.formats.kitfile import write_kit
from mektel.formats.png import pixels_from_png
from tests.app.test_reuse import menu_of, pick


def test_the_walk_is_done_by_hand_and_never_comes_again(demo, tmp_path: Path) -> None:
    window, hand = demo
    kit = window.bench.kit
    board = kit.model_copy(update={"controls": kit.controls[:1]})
    window.bench.start(board, None)
    assert not window.bench.settings.walked
    window.start_walk()
    walk = window.walk
    assert walk.step == 0 and "1 of 5" in walk.count.text()

    def marked() -> QPoint:
        hand.until(walk.mark.isVisible)
        return walk.mark.geometry().center()

    # Each step is done where the mark is, and nothing else leads on.
    hand.settle()
    hand.until(lambda: window.childAt(marked()) is window.build.wall.tiles["hover"])
    hand.click(window.build.wall.tiles["rest"])
    hand.settle()
    assert walk.step == 0
    hand.click(window.build.wall.tiles["hover"])
    hand.until(lambda: walk.step == 1)
    card = window.build.strip.card
    hand.until(lambda: walk.mark.geometry().contains(card.mapTo(window, card.rect().center())))
    bar = card.body.gradient
    hand.click(bar, bar._handle(bar._stops[0]).toPoint())
    hand.click(card.dials["=stop"].swatch)
    popover = window.findChild(ColourPopover)
    popover.swatches["ember"].click()
    popover.close()
    hand.until(lambda: walk.step == 2)
    hand.click(window.try_pad.area.control)
    hand.until(lambda: walk.step == 3)
    hand.click(window.route.track.stops["Ship"])
    hand.until(lambda: walk.step == 4)
    ship = window.ship
    hand.until(lambda: not ship.working, 60_000)
    for name in ("web", "sprites", "svg"):
        hand.click(ship.cards[name], ship.cards[name]._tick().center().toPoint())
    hand.write(ship.folder, str(tmp_path / "out"))
    hand.click(ship.run)
    hand.until(lambda: walk.step == 5 and not ship.working, 60_000)
    assert "whole route" in walk.text.text() and not walk.mark.isVisible()
    hand.click(walk.skip)
    assert window.walk is None and Settings().walked


class Entering(QDragEnterEvent):
    """A drag whose source can be set."""


def test_a_control_leaves_as_css_as_a_picture_and_by_drag(demo, monkeypatch) -> None:
    window, hand = demo
    bench, item = window.bench, window.shelf.items["board"]
    clipboard = QGuiApplication.clipboard()
    pick(hand, menu_of(hand, item), "Copy as CSS")
    hand.until(lambda: "as CSS" in window.notice.text.text())
    again, leftovers, _ = control_from_css(clipboard.text(), "again")
    assert not leftovers and again.size == (168, 48)
    board = bench.kit.control("board")
    ours = render(resolve(bench.kit, board, text=""), 1.0).rgba.astype(float)
    theirs = render(resolve(bench.kit, again, text=""), 1.0).rgba.astype(float)
    assert abs(ours - theirs).mean() < 0.2
    pick(hand, menu_of(hand, item), "Copy picture")
    hand.until(lambda: "as a picture" in window.notice.text.text())
    look = resolve(bench.kit, board)
    whole = render(look, 2.0, look.margins()).rgba
    image = clipboard.image()
    assert (image.height(), image.width()) == whole.shape[:2]
    dragged = []
    monkeypatch.setattr(QDrag, "exec", lambda self, *_: dragged.append(self.mimeData()))
    monkeypatch.setattr(QGuiApplication, "mouseButtons", lambda: Qt.MouseButton.LeftButton)
    hand.press(item)
    hand.move(item, item.rect().center() + QPoint(0, 40))
    hand.until(lambda: bool(dragged))
    hand.release(item)
    data = dragged[0]
    file = Path(data.urls()[0].toLocalFile())
    assert file.name == "board.png" and pixels_from_png(file.read_bytes()).shape == whole.shape
    assert data.hasImage() and data.text().startswith(".board {")
    # The window that it comes from does not take it: a slip of the hand adds no layer.
    for source, taken in ((item, False), (None, True)):
        event = Entering(QPoint(400, 300), Qt.DropAction.CopyAction, data,
                         Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
        event.ignore()
        event.source = lambda source=source: source
        window.dragEnterEvent(event)
        assert event.isAccepted() is taken


def test_the_window_is_where_it_was_and_recent_kits_have_pictures(make, tmp_path: Path) -> None:
    window, hand = make(demo=True)
    path = tmp_path / "ferry.mektel"
    write_kit(window.bench.kit, path)
    window.open(path)
    hand.until(lambda: window.bench.settings.thumbnail(path).exists())
    picture = pixels_from_png(window.bench.settings.thumbnail(path).read_bytes())
    assert picture[..., 3].max() > 200 and max(picture.shape[:2]) > 60
    window._fill_kit_menu()
    recent = next(action.menu() for action in window.route.kit_menu.actions()
                  if action.text() == "Recent kits")
    assert recent.actions()[0].text() == "ferry" and not recent.actions()[0].icon().isNull()
    path.unlink()
    window._fill_kit_menu()
    recent = next(action.menu() for action in window.route.kit_menu.actions()
                  if action.text() == "Recent kits")
    assert not recent.actions()[0].isEnabled()
    window.split.setSizes([window.split.width() - 245, 245])
    hand.settle()
    wide = window.try_pad.width()
    assert abs(wide - 245) <= 2
    window._closing = True  # the kit counts as unsaved since its file is gone
    window.close()
    again = make_window(demo=True)
    again.show()
    QApplication.processEvents()
    try:
        # The screen may be too small for the window as it was; its panes are as they were.
        assert abs(again.try_pad.width() - wide) <= 2
    finally:
        again.close()
