"""Every line that can be typed into, left in every way: nothing dies, nothing is lost.

However a line is left, the kit is what Return would have made it; Escape gives back what was there.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QLineEdit, QScrollArea

from mektel.app.faults import faults
from mektel.app.window import Window
from mektel.core.kit import Kit, Parameter, Variation, palette_edits, parameter_edits
from mektel.core.kit.palette import PaletteValue
from mektel.core.kit.timing import Timing
from tests.app.conftest import Hand
from tests.slices import some_of

LEAVING = ("Tab", "Shift+Tab", "click elsewhere", "another row", "another view",
           "another control", "save", "undo and redo", "closing", "Escape")


def furnished(kit: Kit) -> Kit:
    """The demo kit with a parameter and a palette value of every type."""
    for kind, default in (("number", 1.0), ("length", 8.0), ("text", "north"), ("colour", "tide"),
                          ("choice", "one"), ("colours", ("#3AA2A8", "#175A66"))):
        kit = parameter_edits.add_parameter(kit, "board", Parameter(
            name=f"a_{kind}", type=kind, default=default,
            choices=("one", "other") if kind == "choice" else (),
            **({"min": 0.0, "max": 20.0} if kind in ("number", "length") else {})))
    kit = parameter_edits.set_variations(kit, "board", (
        *kit.control("board").variations, Variation(name="Return trip")))
    for kind, value in (("length", 8.0), ("duration", 0.2), ("number", 2.0),
                        ("font", "Hanken Grotesk"), ("timing", Timing(seconds=0.2))):
        kit = palette_edits.set_palette_value(
            kit, PaletteValue(name=f"a-{kind}", type=kind, value=value))
    return kit


class Line:
    """A line of the window, looked for anew each time: rows may be others after an edit."""

    def __init__(self, window: Window, view: str, name: str, at: int, text: str) -> None:
        self.window, self.view, self.name, self.at, self.text = window, view, name, at, text

    @property
    def entry(self) -> QLineEdit:
        names = [entry.accessibleName() for entry in lines(self.window)]
        assert names.count(self.name) > self.at, f"{self} is not among {names}"
        return [entry for entry in lines(self.window) if entry.accessibleName() == self.name][
            self.at]

    @property
    def typed(self) -> str:
        """Something else than what is there, and as valid as it."""
        text = self.text.strip()
        try:
            float(text.rstrip("px%s°×").strip())
        except ValueError:
            return "#2F8C93" if text.startswith("#") else f"{text or 'deck'} b" if (
                "Name" not in self.name) else f"{text}-b"
        return "3" if text != "3" else "4"

    def __str__(self) -> str:
        return f"{self.view}: {self.name} ({self.at}), “{self.text}”"


def lines(window: Window) -> list[QLineEdit]:
    return [entry for entry in window.findChildren(QLineEdit)
            if entry.isVisible() and entry.isEnabled() and not entry.isReadOnly()
            and entry.width() > 0 and entry.window() is window]


def show(window: Window, hand: Hand, view: str, kit: Kit) -> None:
    """The view as it is with ``kit``; what was edited is undone."""
    bench = window.bench
    while bench.kit != kit:
        bench.undo()
    view, _, part = view.partition(" ")
    bench.select("board", "rest", part or None)
    window.go_to(view)
    if view == "Reuse":
        window.reuse.variations.select(1)
    hand.settle()


def views_with_lines(window: Window) -> Iterator[str]:
    yield from ("Build outline", *(f"Build {layer.id}" for layer in window.bench.control.layers),
                "Feel", "Reuse", "Ship")


def every_line(window: Window, hand: Hand) -> list[Line]:
    all_of_them: dict[tuple[str, int], Line] = {}
    for view in list(views_with_lines(window)):
        show(window, hand, view, window.bench.kit)
        hand.settle()
        seen: dict[str, int] = {}
        for entry in lines(window):
            name = entry.accessibleName()
            at = seen.get(name, 0)
            seen[name] = at + 1
            key = (view if view.startswith("Build") and not name.startswith("Control") else "all",
                   name, at)
            all_of_them.setdefault(key, Line(window, view, name, at, entry.text()))
    return list(all_of_them.values())


def leave(line: Line, hand: Hand, way: str, folder: Path) -> None:
    window = line.window
    entry = line.entry
    keys = {"Return": (Qt.Key.Key_Return, ""), "Tab": (Qt.Key.Key_Tab, ""),
            "Shift+Tab": (Qt.Key.Key_Backtab, ""), "Escape": (Qt.Key.Key_Escape, "")}
    if way in keys:
        QTest.keyClick(entry, keys[way][0])
    elif way == "click elsewhere":
        hand.click(window.route, QPoint(4, 4))
        if QApplication.focusWidget() is entry:
            hand.click(window.try_pad if window.try_pad.isVisible() else window.rooms,
                       QPoint(6, 6))
        window.setFocus()
    elif way == "another row":
        others = [other for other in lines(window)
                  if other is not entry and other.visibleRegion().contains(other.rect().center())]
        hand.click(others[len(others) // 2])
        assert QApplication.focusWidget() is not entry, line
    elif way == "another view":
        hand.keys("Ctrl+1" if line.view != "Build" and not line.view.startswith("Build")
                  else "Ctrl+2")
    elif way == "another control":
        window.bench.select("horn")
    elif way == "save":
        window.bench.files.path = folder / "kit.mektel"
        window.save()
    elif way == "undo and redo":
        window.bench.undo()
        window.bench.redo()
    elif way == "closing":
        window.close()  # and staying, where it asks about unsaved work
        for dialog in window.findChildren(QDialog):
            QTest.keyClick(dialog, Qt.Key.Key_Escape)
        window.show()
        window.activateWindow()
        QTest.qWaitForWindowActive(window)


def type_into(line: Line, hand: Hand) -> None:
    entry, parent = line.entry, line.entry.parentWidget()
    while parent is not None:  # as a user scrolls to what is to be typed into
        if isinstance(parent, QScrollArea):
            parent.ensureWidgetVisible(entry)
        parent = parent.parentWidget()
    hand.click(entry)
    assert QApplication.focusWidget() is entry, f"{line}: another has the focus"
    entry.selectAll()
    QTest.keyClick(entry, Qt.Key.Key_Delete)
    QTest.keyClicks(entry, line.typed)


def test_every_line_keeps_what_was_typed_however_it_is_left(make, tmp_path: Path) -> None:
    window, hand = make()
    bench = window.bench
    kit = furnished(bench.kit)
    bench.start(kit, None)
    all_lines = every_line(window, hand)
    assert len(all_lines) > 90
    wrong, edits = [], 0
    tried = some_of(all_lines, 6)
    for number, line in enumerate(tried):
        by_return: Kit | None = None
        for way in ("Return", *some_of(LEAVING, 4, number % 4)):
            show(window, hand, line.view, kit)
            type_into(line, hand)
            leave(line, hand, way, tmp_path)
            QApplication.processEvents()
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
            by_return = by_return or bench.kit
            if bench.kit != (kit if way == "Escape" else by_return):
                wrong.append(f"{line}, left by {way}: the kit is another than it should be")
        edits += by_return != kit
    assert not wrong, "\n".join(wrong)
    assert edits > len(tried) * 0.8
    assert not faults().places
