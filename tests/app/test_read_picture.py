"""A flat picture over Build: read as layers, corrected by hand, added and run."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, Qt

from mektel.core.kit import Control, Kit, Label
from mektel.core.look import Margins, resolve
from mektel.core.paint import on_backdrop, render
from mektel.targets import TARGETS
from mektel.targets.verify import verify

GATE = Control.model_validate({
    "id": "gate", "name": "Gate", "text": "Open", "size": (92, 34),
    "outline": {"form": "box", "corners": (9, 9, 9, 9)},
    "layers": [
        {"id": "shadow", "kind": "shadow", "name": "Shadow", "colour": "#1B2A2980",
         "offset": (0, 4), "blur": 8},
        {"id": "face", "kind": "fill", "name": "Face", "colour": "#C8742C"},
        {"id": "line", "kind": "line", "name": "Line", "width": 2, "colour": "#5A2D0E"},
        {"id": "label", "kind": "label", "name": "Label", "size": 15, "weight": 700,
         "colour": "#FFF6E0"}]})


@pytest.fixture
def picture(tmp_path: Path) -> Path:
    art = render(resolve(Kit(), GATE), 1, Margins(14, 12, 14, 18)).rgba
    flat = on_backdrop(art, (0.93, 0.9, 0.84, 1.0))[:, :, :3]
    path = tmp_path / "gate-shot.jpg"
    Image.fromarray(np.ascontiguousarray(flat)).save(path, quality=95, subsampling=0)
    return path


def test_a_flat_picture_is_read_corrected_and_shipped(make, picture: Path) -> None:
    window, hand = make(demo=False)
    bench = window.bench
    bench.import_files([picture])
    hand.until(lambda: window.build.pictures is not None and (
        window.build.pictures.pictures.result is not None))
    hand.click(window.build.pictures.read_button)
    view = window.build.reading
    assert view is not None and view.progress.isVisible() and not view.add_button.isEnabled()
    hand.until(lambda: not view.reading.busy, 60_000)
    hand.settle()
    cards = view.cards
    assert float(cards["outline"].fields["width"].text()) == pytest.approx(92, abs=0.5)
    assert float(cards["outline"].fields["radius"].text()) == pytest.approx(9, abs=0.6)
    assert float(cards["line"].fields["line"].text()) == pytest.approx(2, abs=0.3)
    assert cards["shadow"].there and "sure" in cards["shadow"].sure.text()
    assert not cards["light"].there and cards["light"].wanted_button.text() == "Add"
    assert "mean difference" in view.status.text() and view.reading.result.mean < 1.5
    # The wipe follows the pointer; the difference has its own picture.
    box = view.wipe.picture_rect()
    hand.drag(view.wipe, box.center().toPoint(), QPoint(round(box.left()) + 20, 60))
    assert view.wipe.share < 0.2
    hand.click(view.modes["difference"])
    assert view.wipe.mode == "difference"
    hand.click(view.modes["wipe"])
    # Words give the label its size, weight and place.
    hand.write(view.text_entry, "Open")
    hand.until(lambda: not view.reading.busy and view.reading.texts.text == "Open")
    label = view.reading.result.control.layer("label")
    assert isinstance(label, Label) and label.size == pytest.approx(15, abs=0.8)
    assert label.family == "Hanken Grotesk" and abs(label.move[0]) < 2
    # A value by hand is kept, what is locked stays, and the rest follows.
    hand.click(cards["outline"].lock_box)
    before = view.reading.reading.geometry
    hand.write(cards["shadow"].fields["shadow_blur"], "6")
    hand.until(lambda: not view.reading.busy)
    now = view.reading.reading.geometry
    assert now.shadow_blur == 6 and (now.width, now.radius) == (before.width, before.radius)
    assert now.shadow_y != before.shadow_y
    assert not cards["outline"].fit_button.isEnabled()
    hand.click(cards["shadow"].fit_button)
    hand.until(lambda: not view.reading.busy)
    assert view.reading.reading.geometry.shadow_blur == pytest.approx(8, abs=1.6)
    hand.click(cards["shadow"].wanted_button)
    hand.until(lambda: not view.reading.busy)
    assert not cards["shadow"].there and view.reading.result.mean > 1
    hand.click(cards["shadow"].wanted_button)
    hand.until(lambda: not view.reading.busy)
    assert cards["shadow"].there
    # A name counts that was typed last, without Enter.
    hand.write(view.name_entry, "Gate", Qt.Key.Key_Shift)
    hand.click(view.add_button)
    hand.until(lambda: bench.control is not None)
    control = bench.control
    assert window.build.over is None and (control.name, control.text) == ("Gate", "Open")
    assert {"hover", "pressed", "disabled", "focus"} <= set(control.states)
    for target in ("qtwidgets", "web"):
        matches = verify(bench.kit, [control], TARGETS[target], only={control.id: ["rest"]})
        assert matches and all(match.passes for match in matches), matches
    bench.undo()
    assert not bench.kit.controls


def test_pictures_of_states_are_read_and_a_change_goes_back_to_rest(
    make, examples: Path
) -> None:
    window, hand = make(demo=False)
    bench = window.bench
    bench.import_files([examples / f"gate{state}@2x.png" for state in ("-pressed", "", "-focus")])
    hand.until(lambda: window.build.pictures is not None and (
        window.build.pictures.pictures.result is not None))
    assert "read as layers" in window.build.pictures.hint.text()
    hand.click(window.build.pictures.read_button)
    view = window.build.reading
    hand.until(lambda: not view.reading.busy, 60_000)
    hand.settle()
    assert list(view.state_buttons) == ["rest", "pressed", "focus"]
    assert view.cards["shadow"].isVisible() and view.all_button.isVisible()
    hand.click(view.state_buttons["focus"])
    assert list(view.changes.buttons) == [("ring", "visible")] and not view.all_button.isVisible()
    hand.click(view.state_buttons["pressed"])
    changed = dict.fromkeys(part for part, _ in view.changes.buttons)
    assert set(changed) == {"shadow", "face", "light", "outline"}
    assert view.reading.states.compared["pressed"].mean < 0.5 and "pressed 0." in view.status.text()
    hand.click(view.changes.buttons["outline", "offset"])
    hand.until(lambda: not view.reading.busy)
    assert ("outline", "offset") not in view.changes.buttons
    assert view.reading.states.compared["pressed"].mean > 0.5  # it stands where it does at rest
    # Fitted again, the states follow, and what was discarded stays so.
    hand.click(view.state_buttons["rest"])
    hand.click(view.cards["light"].wanted_button)
    hand.until(lambda: not view.reading.busy)
    assert not view.cards["light"].there
    hand.click(view.add_button)
    hand.until(lambda: bench.control is not None)
    control = bench.control
    assert set(control.states["focus"]) == {"ring"} and "outline" not in control.states["pressed"]
    assert {"hover", "disabled"} <= set(control.states)  # suggested


def test_reading_is_given_up_at_once_and_refused_in_words(make, picture: Path) -> None:
    window, hand = make(demo=False)
    bench = window.bench
    bench.reading_wanted.emit({"rest": picture})
    hand.until(lambda: window.build.reading.reading.busy)
    began = time.monotonic()
    hand.key(Qt.Key.Key_Escape)
    assert window.build.over is None
    hand.until(lambda: not bench.background.busy)
    assert time.monotonic() - began < 3
    plain = picture.with_name("plain.png")
    Image.new("RGB", (60, 40), "#888").save(plain)
    bench.reading_wanted.emit({"rest": plain})
    hand.until(lambda: window.build.over is None)
    assert "plain.png" in window.notice.text.text() and "stands out" in window.notice.text.text()
