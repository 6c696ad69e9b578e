"""Pictures off the interface thread: kept by value, stale ones dropped, none after the end."""

from __future__ import annotations

import threading
import time

import pytest
from PySide6.QtCore import QPoint
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QWidget

from mektel.app import looks, pictures
from mektel.app.looks import Looks
from mektel.app.main import make_application
from mektel.app.pictures import PictureStore, Wanted, draw
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.core.kit import Kit
from mektel.core.look import resolve, shared_margins


def wanted(kit: Kit, name: str, scale: float = 1.0, layer: str | None = None) -> Wanted:
    control = kit.control(name)
    return Wanted(resolve(kit, control), scale, shared_margins(kit, control), layer)


class Waiting(QWidget):
    painted = 0

    def isVisible(self) -> bool:
        return True

    def repaint(self) -> None:
        self.painted += 1


@pytest.fixture
def store(qtbot):
    make_application()
    made = PictureStore(kept=pictures.KeptPictures())
    yield made
    made.stop()


def test_a_picture_is_drawn_once_and_kept_by_value(store, qtbot, demo_kit: Kit) -> None:
    one = wanted(demo_kit, "board")
    assert store.get(one) is None and store.busy
    waiting = Waiting()
    store.repaint_when_ready(one, waiting)
    qtbot.waitUntil(lambda: waiting.painted == 1)
    image = store.get(one)
    assert image is not None and not store.busy
    same = demo_kit.control("board").model_copy()
    again = Wanted(resolve(demo_kit, same), 1.0, shared_margins(demo_kit, same))
    assert again.look is not one.look and store.get(again) is image
    assert image.size() == draw(one).size() and image == draw(one)
    assert store.get(wanted(demo_kit, "board", layer="face")) is None  # another picture


def test_what_nobody_has_begun_is_dropped_and_asked_for_again(
    store, qtbot, demo_kit: Kit, monkeypatch: pytest.MonkeyPatch
) -> None:
    drawn: list[Wanted] = []
    go_on = threading.Event()

    def slowly(one: Wanted) -> QImage:
        drawn.append(one)
        go_on.wait(20)
        return draw(one)

    monkeypatch.setattr(pictures, "draw", slowly)
    asked = [wanted(demo_kit, "half", 1 + at / 10) for at in range(8)]
    for one in asked:
        store.get(one)
    qtbot.waitUntil(lambda: len(drawn) == 2)
    waiting = {one: Waiting() for one in asked}
    for one, widget in waiting.items():
        store.repaint_when_ready(one, widget)
    store.drop_waiting()
    qtbot.waitUntil(lambda: not store.turns.busy)
    dropped = [one for one, widget in waiting.items() if widget.painted]
    assert set(dropped) == set(asked) - set(drawn) and len(dropped) == 6
    go_on.set()
    qtbot.waitUntil(lambda: not store.busy)
    assert len(drawn) == 2
    assert store.get(dropped[0]) is None and store.busy


def test_a_widget_shows_the_last_picture_until_the_new_one_is_there(
    store, qtbot, demo_kit: Kit
) -> None:
    class Shown(ShowsPictures, Waiting):
        pass

    widget = Shown()
    qtbot.addWidget(widget)
    widget.watch(store)
    first, second = wanted(demo_kit, "cargo"), wanted(demo_kit, "cargo", 2)
    assert widget.picture(first) is None
    qtbot.waitUntil(lambda: widget.painted == 1)
    old = widget.picture(first)
    assert old is not None
    assert widget.picture(second) is old  # not blank while the new one is drawn
    store.get(wanted(demo_kit, "horn"))  # somebody else's
    qtbot.waitUntil(lambda: not store.busy)
    assert widget.painted == 2 and widget.picture(second).width() > old.width()


def test_windows_share_what_was_drawn(qtbot, demo_kit: Kit) -> None:
    make_application()
    kept = pictures.KeptPictures()
    first, second = pictures.PictureStore(kept=kept), pictures.PictureStore(kept=kept)
    one = wanted(demo_kit, "board")
    assert first.get(one) is None
    qtbot.waitUntil(lambda: not first.busy)
    first.stop()
    assert second.get(one) is not None and not second.busy
    second.stop()


def test_memory_is_bounded_and_nothing_begins_after_the_end(qtbot, demo_kit: Kit) -> None:
    make_application()
    store = pictures.PictureStore(kept=pictures.KeptPictures(300_000))
    asked = [wanted(demo_kit, name, 2) for name in ("board", "cast-off", "half", "horn")]
    for one in asked:
        store.get(one)
        qtbot.waitUntil(lambda: not store.busy)
    assert store._kept.images.currsize <= 300_000
    assert asked[-1] in store._kept.images and asked[0] not in store._kept.images
    store.stop()
    assert store.get(asked[0]) is None and not store.busy
    assert store.get(asked[-1]) is not None


def test_a_look_that_takes_long_is_not_waited_for(
    qtbot, demo_kit: Kit, monkeypatch: pytest.MonkeyPatch
) -> None:
    make_application()
    store = Looks(None)
    control = demo_kit.control("board")
    assert store.get(demo_kit, control).look == resolve(demo_kit, control)  # takes a moment
    qtbot.wait(1)
    go_on = threading.Event()
    monkeypatch.setattr(looks, "resolve", lambda *args: go_on.wait(20) and resolve(*args))
    began = time.monotonic()
    assert store.get(demo_kit, control, {"hover"}) is None and store.busy
    assert store.get(demo_kit, control, {"pressed"}) is None
    assert time.monotonic() - began < 10
    store.drop_waiting()  # an edit: what was begun goes on, the other is forgotten
    with qtbot.waitSignal(store.ready, timeout=20_000):
        go_on.set()
    hovered = store.get(demo_kit, control, {"hover"})
    assert hovered.look == resolve(demo_kit, control, {"hover"}) and not store.busy
    store.stop()
    assert store.get(demo_kit, control, {"pressed"}) is None and not store.busy


def test_closing_in_the_middle_of_drawing_ends_cleanly(make) -> None:
    window, hand = make()
    window.bench.view(density=3)
    hand.move(window.build.wall.tiles["rest"], QPoint(20, 20))
    window._closing = True
    window.close()
    hand.until(lambda: not window.bench.pictures.busy)  # what was begun was ended
    window.build.wall.tiles["rest"].repaint()
    assert not window.bench.pictures.busy
