"""Help at hand: the guide beside the work, anything found by its name."""

from __future__ import annotations

from PySide6.QtCore import QByteArray, QEvent, Qt
from PySide6.QtGui import QHelpEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QToolTip, QWidget

from mektel.app.build.legend import Legend
from mektel.app.build.value_help import value_help
from mektel.app.help.find import FindBox
from mektel.app.help.guide import guide_text, headings, slug
from mektel.core.kit import KINDS, OUTLINE, ControlOutline, Kit, value_names
from mektel.core.look.value_examples import example_of


def heading_in_view(window) -> str:
    """The heading at the top of the guide."""
    text = window._guide.text
    block = text.cursorForPosition(text.viewport().rect().topLeft()).block()
    while block.isValid() and not block.blockFormat().headingLevel():
        block = block.next()
    return block.text()


def find(window, hand, typed: str, *keys: Qt.Key) -> list[str]:
    """Types into the line that Ctrl+K opens; the names that match, after these keys."""
    window.activateWindow()
    hand.until(lambda: QApplication.focusWindow() is window.windowHandle()
               and QApplication.activePopupWidget() is None)
    hand.keys("Ctrl+K")
    hand.until(lambda: any(box.isVisible() for box in window.findChildren(FindBox)))
    box = next(box for box in window.findChildren(FindBox) if box.isVisible())
    QTest.keyClicks(box.entry, typed)
    names = [f"{goal.name} · {goal.kind}" for goal in box.shown]
    for key in keys:
        QTest.keyClick(box.entry, key)
    hand.settle()
    return names


def test_anything_is_found_by_its_name_and_gone_to(demo) -> None:
    window, hand = demo
    bench = window.bench
    assert find(window, hand, "horn", Qt.Key.Key_Return)[0] == "Horn · control"
    assert bench.control_id == "horn"
    # A layer of another control, and then one of its values, with the keyboard in its dial.
    assert find(window, hand, "wake", Qt.Key.Key_Return)[0] == "Wake · layer of Night watch"
    assert (bench.control_id, bench.part_id) == ("night-watch", "wake")
    window.go_to("Feel")
    names = find(window, hand, "wake blend", Qt.Key.Key_Return)
    assert names[0] == "Wake, blend · value" and window.build.isVisible()
    assert window.build.strip.card.dials["blend"].isAncestorOf(window.focusWidget())
    # By a word that it does not bear, and before the icons that do.
    bench.select("board")
    assert find(window, hand, "corner", Qt.Key.Key_Escape)[0] == "Outline, form · value"
    assert find(window, hand, "content along", Qt.Key.Key_Escape)[0].startswith("Outline, content")
    # The second that matches, by the arrows; what nothing has is said.
    first, second, *_ = find(window, hand, "tide", Qt.Key.Key_Down, Qt.Key.Key_Return)
    assert first == "tide · palette colour" and window.reuse.isVisible()
    assert window.reuse.palette_side.chosen == second.partition(" · ")[0]
    assert not find(window, hand, "no such thing", Qt.Key.Key_Return, Qt.Key.Key_Escape)
    # Commands, and pages of the guide.
    count = len(bench.kit.controls)
    find(window, hand, "new pill", Qt.Key.Key_Return)
    assert len(bench.kit.controls) == count + 1
    find(window, hand, "undo", Qt.Key.Key_Return)
    assert len(bench.kit.controls) == count
    assert "Formulas · guide" in find(window, hand, "formulas", Qt.Key.Key_Return)
    assert window._guide.isVisible() and heading_in_view(window) == "Formulas"


def test_the_guide_opens_beside_the_work_at_what_is_in_front(demo) -> None:
    window, hand = demo
    for view in ("Build", "Feel", "Reuse", "Ship"):
        window.go_to(view)
        hand.settle()
        hand.keys("F1")
        assert window._guide.isVisible() and heading_in_view(window).endswith(view)
        assert not window.try_pad.isVisible()
        QTest.keyClick(window._guide.text, Qt.Key.Key_Escape)
        assert not window._guide.isVisible()
    window.go_to("Build")
    assert window.try_pad.isVisible()
    # In a small window it lies over what is beside the work.
    window.resize(1024, 700)
    hand.click(window.route.help_button)
    guide = window._guide
    assert guide.isVisible() and guide.geometry().right() <= window.width()
    for link in links(guide):
        guide._follow(link)
        assert slug(heading_in_view(window)) == link.fragment(), "a link of the guide leads there"
    hand.click(guide.close_button)
    assert not guide.isVisible()
    assert "![" not in guide_text() and "Keys and drags" in headings()


def links(guide):
    """Every link of the guide to a part of itself."""
    from PySide6.QtCore import QUrl

    block, found = guide.text.document().begin(), []
    while block.isValid():
        for piece in block.textFormats():
            link = QUrl(piece.format.anchorHref())
            if link.fragment() and not link.path():
                found.append(link)
        block = block.next()
    return found


def test_the_tip_of_a_value_shows_what_it_does(demo) -> None:
    window, hand = demo
    window.bench.select("board", part_id="face")
    hand.settle()
    dial = window.build.strip.card.dials["direction"]

    def tip() -> str:
        label = dial.label
        hand.move(label)
        spot = label.rect().center()
        QApplication.sendEvent(label, QHelpEvent(
            QEvent.Type.ToolTip, spot, label.mapToGlobal(spot)))
        hand.until(lambda: not window.bench.background.busy)
        return QToolTip.text()

    shown = tip()
    assert shown.startswith("<p>Where the gradient runs to") and "<img" in shown
    picture = QImage.fromData(QByteArray.fromBase64(
        shown.split("base64,")[1].split('"')[0].encode()))
    # Two pictures of the control, side by side, that differ.
    half = picture.width() // 2
    left, right = (picture.copy(x, 0, half - 16, 140) for x in (0, half + 8))
    assert left != right and left.size() == right.size()
    # Where nothing would be seen there are words alone.
    QToolTip.hideText()
    window.bench.set_value("face", "visible", False, "visible")
    hand.settle()
    assert "<img" not in tip()


def test_an_example_changes_one_value_of_any_kind_of_layer(demo_kit: Kit) -> None:
    shown = 0
    for control in map(demo_kit.control, ("board", "horn", "pennant", "night-watch", "queue")):
        for part_id in (OUTLINE, *(layer.id for layer in control.layers)):
            part = control.part(part_id)
            for name in value_names(part):
                example = example_of(demo_kit, control, "hover", part_id, name)
                if example is not None:
                    shown += 1
                    assert example.value == getattr(control.part_in(part_id, {"hover"}), name)
                    assert example.moved != example.value and example.before != example.after
    assert shown > 250


def test_every_value_says_what_it_does_and_marks_are_explained(demo) -> None:
    window, hand = demo
    for kind, model in {**KINDS, OUTLINE: ControlOutline}.items():
        unsaid = [name for name in value_names(model)
                  if not value_help(kind, name) and name not in ("stops", "arguments")]
        assert not unsaid, (kind, unsaid)
    strip = window.build.strip
    window.bench.select("board", state="hover", part_id="face")
    dial = strip.card.dials["direction"]
    assert dial.label.toolTip().startswith("Where the gradient runs to")
    hand.click(strip.marks)
    legend = window.findChild(Legend)
    samples = [child for child in legend.findChildren(QWidget) if type(child).__name__ in (
        "Sample", "Dial")]
    assert len(samples) == 5
    for sample in samples:  # each mark is painted: not one flat colour
        picture = sample.grab().toImage()
        seen = {picture.pixel(x, y) for x in range(0, picture.width(), 2)
                for y in range(0, picture.height(), 2)}
        assert len(seen) > 2
    legend.close()
