"""Finishes: the whole kit drawn another way, by what ships and by an installed plug-in."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from mektel.core.kit import Kit
from mektel.core.look import resolve
from mektel.core.look.finishes import finish_problem, finishes
from mektel.core.paint import render

SCRIPT = """
from mektel.core.kit import Kit
from mektel.core.look import resolve
from mektel.core.look.finishes import finish_problem, finish_text, finishes
from mektel.formats.kitfile import read_kit
from mektel.samples import DEMO
kit = read_kit(DEMO).model_copy(update={"finish": "ring"})
looks = [resolve(kit, control, flags) for control in kit.controls for flags in ((), {"pressed"})]
print(sorted(finishes()), finish_text("ring"), repr(finish_problem(kit)))
print({type(one).__name__ for look in looks for one in look.layers})
"""


def test_a_finish_redraws_every_control_and_leaves_the_document(demo_kit: Kit) -> None:
    for name in ("flat", "thick"):
        kit = demo_kit.model_copy(update={"finish": name})
        board = kit.control("board")
        for flags in ((), {"pressed"}, {"disabled"}):
            assert resolve(kit, board, flags) != resolve(demo_kit, board, flags)
            assert render(resolve(kit, board, flags)).rgba[:, :, 3].any()
        assert kit.controls is demo_kit.controls and not finish_problem(kit)
    missing = demo_kit.model_copy(update={"finish": "nowhere"})
    assert resolve(missing, board) == resolve(demo_kit, demo_kit.control("board"))
    assert "not installed" in finish_problem(missing) and "flat" in finishes()


def test_the_example_plug_in_is_installed_and_used(examples: Path, tmp_path: Path) -> None:
    copy = tmp_path / "finish-ring"
    copy.mkdir()
    for file in ("pyproject.toml", "finish_ring.py"):
        (copy / file).write_text((examples / "finish-ring" / file).read_text())
    site = tmp_path / "site"
    told = subprocess.run(
        [sys.executable, "-m", "pip", "install", "--quiet", "--no-deps", "--no-index",
         "--no-build-isolation", "--target", str(site), str(copy)],
        capture_output=True, text=True)
    assert told.returncode == 0, told.stderr
    ran = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True,
                         env=os.environ | {"PYTHONPATH": str(site)})
    assert ran.returncode == 0, ran.stderr
    first, kinds = ran.stdout.splitlines()
    assert first.startswith("['flat', 'ring', 'thick'] Only an outline") and first.endswith("''")
    assert "LineLook" in kinds and "ShadowLook" not in kinds and "FillLook" in kinds
