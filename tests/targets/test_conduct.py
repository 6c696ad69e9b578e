"""How shipped controls behave is judged: each that misbehaves is caught, and no honest one."""

from __future__ import annotations

from pathlib import Path

import pytest

from mektel.core.kit import Control, Kit, edit, palette_edits
from mektel.targets import TARGETS, ship, write_files
from mektel.targets.base import TargetError
from mektel.targets.conduct import conducts
from tests.slices import some_of
from tests.targets.tampers import QT, WEB, tampered

FAULTS = {"qtwidgets": QT, "web": WEB}
HONEST = ("board", "ramp", "cast-off", "horn")
# Of a hundred faults so many may pass.
MAY_PASS = 0.03


def tried_kit(demo: Kit) -> Kit:
    """Some of the demo's controls, and one whose colours are others in each scheme."""
    kit = demo.model_copy(update={"controls": tuple(
        control for control in demo.controls if control.id in HONEST)})
    kit = palette_edits.set_swatch(kit, "quay", "#2F8C93")
    kit = palette_edits.set_swatch(kit, "quay", "#101820", "night")
    schemed = Control.model_validate({
        "id": "schemed", "name": "Schemed", "text": "Quay", "size": (120, 40), "layers": [
            {"id": "face", "name": "F", "kind": "fill", "colour": "quay"},
            {"id": "label", "name": "L", "kind": "label", "colour": "#FFFFFF"}]})
    return kit.model_copy(update={"controls": (*kit.controls, schemed)})


@pytest.mark.parametrize("target", ["qtwidgets", "web"])
def test_controls_that_misbehave_are_caught(target: str, demo_kit: Kit, tmp_path: Path) -> None:
    shipped, kit = TARGETS[target], tried_kit(demo_kit)
    faults = some_of(list(FAULTS[target]), 4 if target == "qtwidgets" else 16)
    ids = {}
    for fault in faults:
        kit = edit.copy_control(kit, FAULTS[target][fault][0])
        ids[fault] = kit.controls[-1].id
    write_files(ship(shipped, kit, kit.controls), tmp_path)
    honest = [kit.control(name) for name in (*HONEST, "schemed")]
    for conduct in conducts(kit, some_of(honest, 4, 4 % len(honest)), shipped, None, tmp_path):
        assert conduct.passes, (conduct.control, conduct.faults)
    passed = []
    for fault, control_id in ids.items():
        control = kit.control(control_id)
        path = tmp_path / shipped.main_file(control)
        name = shipped.class_name(control) if target == "qtwidgets" else shipped.tag(control)
        path.write_text(tampered(target, fault, path.read_text(encoding="utf-8"), name),
                        encoding="utf-8")
        try:
            (conduct,) = conducts(kit, [control], shipped, None, tmp_path)
        except TargetError:
            continue  # it does not even run
        passed += [fault] if conduct.passes else []
    assert len(passed) <= MAY_PASS * len(ids), passed


@pytest.mark.parametrize("target", ["qtwidgets", "web"])
def test_honest_controls_behave(target: str, demo_kit: Kit) -> None:
    chosen = some_of(demo_kit.controls, 1 if target == "qtwidgets" else 5)
    conducted = conducts(demo_kit, chosen, TARGETS[target])
    assert [conduct.control for conduct in conducted] == [control.id for control in chosen]
    for conduct in conducted:
        assert conduct.tried > 10 and conduct.passes, (conduct.control, conduct.faults)


def test_a_target_without_behaviour_is_not_tried(demo_kit: Kit) -> None:
    assert conducts(demo_kit, demo_kit.controls[:1], TARGETS["svg"]) == []
