"""The whole job with the keyboard alone: no pointer from the first starter to shipped code."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu, QWidget

from mektel.formats.kitfile import read_kit


class Keys:
    """Nothing but keys, sent to whatever has the focus."""

    def __init__(self, window, hand) -> None:
        self.window, self.hand = window, hand

    @property
    def focused(self) -> QWidget:
        widget = QApplication.focusWidget()
        assert widget is not None, "nothing has the focus"
        return widget

    def press(self, *keys: Qt.Key) -> None:
        for key in keys:
            popup = QApplication.activePopupWidget()
            target = popup if isinstance(popup, QMenu) else self.focused
            QTest.keyClick(target, key)
            self.hand.settle()

    def tab_to(self, name: str, most: int = 120, key: Qt.Key = Qt.Key.Key_Tab) -> QWidget:
        """Moves on with Tab until what has this name for a screen reader, or this text."""
        passed = []
        for _ in range(most):
            widget = self.focused
            own = widget.accessibleName() or getattr(widget, "text", lambda: "")()
            if own == name:
                return widget
            passed.append(own)
            QTest.keyClick(widget, key)
        raise AssertionError(f"{name} is not reached by Tab; passed {passed}")

    def type(self, text: str) -> None:
        QTest.keyClicks(self.focused, text)

    def find(self, text: str) -> None:
        """Goes to something by its name."""
        self.hand.keys("Ctrl+K")
        self.hand.until(lambda: QApplication.activePopupWidget() is not None)
        self.type(text)
        self.hand.settle()
        self.press(Qt.Key.Key_Return)
        self.hand.settle()


def test_from_a_starter_to_shipped_code_without_a_pointer(make, tmp_path: Path) -> None:
    window, hand = make(demo=False)
    keys, bench = Keys(window, hand), window.bench
    # A starter, on the empty shelf.
    keys.tab_to("Starter pill")
    keys.press(Qt.Key.Key_Return)
    assert bench.control is not None and bench.control_id == "pill"
    # Another text: the value is found by its name.
    keys.find("label, text")
    keys.focused.selectAll()
    keys.type("Board")
    keys.press(Qt.Key.Key_Return)
    assert bench.control.text == "Board"
    # In hover the face gets another colour.
    keys.tab_to("State hover")
    keys.press(Qt.Key.Key_Return)
    assert bench.state == "hover"
    keys.find("face, direction")
    keys.focused.selectAll()
    keys.type("90")
    keys.press(Qt.Key.Key_Return)
    face = bench.part_id
    assert bench.control.states["hover"][face]["direction"] == 90.0
    hand.keys("Ctrl+Z")
    assert "direction" not in bench.control.states.get("hover", {}).get(face, {})
    hand.keys("Ctrl+Shift+Z")
    # An icon by its name, as a new layer.
    keys.find("anchor")
    assert bench.control.part(bench.part_id).icon == "anchor"
    hand.keys("Ctrl+Z")
    # Pressed for real.
    keys.tab_to("Pill, live")
    QTest.keyClick(keys.focused, Qt.Key.Key_Space)
    assert "clicked" in window.try_pad.signal_names()
    # Saved under a name, then shipped to Qt alone.
    hand.keys("Ctrl+Shift+S")
    hand.later(lambda: hand.name_file(tmp_path / "ferry.mektel"))
    hand.until(lambda: bench.files.path is not None)
    assert read_kit(tmp_path / "ferry.mektel") == bench.kit
    hand.keys("Ctrl+4")
    ship = window.ship
    hand.until(lambda: not ship.working, 60_000)
    for target in ("Web element", "Sprites"):
        keys.tab_to(f"Target {target}")
        keys.press(Qt.Key.Key_Space)
    keys.tab_to("Folder to write to", key=Qt.Key.Key_Backtab)
    keys.focused.selectAll()
    keys.type(str(tmp_path / "out"))
    keys.tab_to("Write and run all")
    keys.press(Qt.Key.Key_Return)
    hand.until(lambda: bool(ship.cards["qtwidgets"].state.matches) and not ship.working, 90_000)
    assert all(match.passes for match in ship.cards["qtwidgets"].state.matches)
    assert (tmp_path / "out/qtwidgets/pill_button.py").exists()
    # The figures, and back to where it began.
    keys.tab_to("Difference per state")
    keys.press(Qt.Key.Key_Down)
    assert ship.match.rows.at == 1
    hand.keys("Ctrl+1")
    assert window.rooms.currentWidget() is window.build
