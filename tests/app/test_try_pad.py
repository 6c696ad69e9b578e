"""The try pad answers as the state machine does, and so as shipped code does."""

from __future__ import annotations

from mektel.targets.qtwidgets.runner.player import Player
from tests.targets.test_conformance import DATA, kit, wanted


def test_the_try_pad_follows_the_traces(make) -> None:
    window, hand = make(demo=False)
    window.bench.start(kit(), None)
    hand.settle()
    live = window.try_pad.area.control
    words = {"checked": "toggled", "unchecked": "toggled"}
    for trace in DATA:
        window.bench.select(trace["behaviour"])
        live.setChecked(False)
        hand.settle()
        player = Player(live, live.mapTo(window, live.rect().center()), window.route,
                        window.windowHandle(), live.flags, live.set_busy)
        window.route.setFocusPolicy(window.build.wall.tiles["rest"].focusPolicy())
        connection = live.signalled.connect(lambda signal, heard=player.heard: heard.append(
            words.get(signal, signal)) if signal in ("clicked", "longPressed", *words) else None)
        found = player.play(trace["steps"])
        live.signalled.disconnect(connection)
        live.setEnabled(True)
        assert found == wanted(trace), trace["name"]


def test_another_control_does_not_play_on_what_the_one_before_it_began(demo) -> None:
    window, hand = demo
    live = window.try_pad.area.control
    hand.settle()
    hand.click(live)
    assert live.moving
    window.bench.select("half")
    hand.until(lambda: live.accessibleName() == "Half, live")
    assert not live.moving
    hand.settle()
    face = live.grab().toImage().pixelColor(24, 24)
    assert face.red() > 200 and face.blue() < 170, face.name()  # a yellow key
