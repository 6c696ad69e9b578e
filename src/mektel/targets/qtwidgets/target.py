"""Qt Widgets: a package of one small module per control, on a runtime that they share."""

from __future__ import annotations

import ast
import json
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path, PurePosixPath
from types import MappingProxyType
from typing import Any

from mektel.core.kit import Control, Kit
from mektel.formats.png import pixels_from_png
from mektel.targets.answering import sound_files
from mektel.targets.base import (
    LayerPlan,
    OutFile,
    Pixels,
    Progress,
    Shot,
    Taken,
    camel,
    font_files,
)
from mektel.targets.conduct import Observed, Trial
from mektel.targets.instrument import plan
from mektel.targets.members import members
from mektel.targets.motion import MotionShot
from mektel.targets.qtwidgets import conduct
from mektel.targets.qtwidgets.expressions import called, formulas_source
from mektel.targets.qtwidgets.instrument import QtInstrument
from mektel.targets.qtwidgets.literals import literal, pretty
from mektel.targets.qtwidgets.module import (
    designer_source,
    module_source,
    package_source,
    required_arguments,
)
from mektel.targets.qtwidgets.running import run
from mektel.targets.qtwidgets.single import single_module
from mektel.targets.sheet import Sheet, sheet_of

# What is shipped as it is; of that, what plays motion.
RUNTIME, FEEL = Path(__file__).parent / "runtime", "feel"
PICTURES, DESIGNER = PurePosixPath("pictures"), PurePosixPath("register_designer.py")


SIGNALS = MappingProxyType({"checked": "toggled(True)", "unchecked": "toggled(False)"})


def runtime_files(moves: bool) -> list[OutFile]:
    """The runtime; without what plays motion where nothing moves."""
    paths = [path.relative_to(RUNTIME) for path in sorted(RUNTIME.rglob("*.py"))]
    files = [OutFile(PurePosixPath("runtime") / path, (RUNTIME / path).read_bytes(), "python")
             for path in paths if moves or FEEL not in path.parts]
    return files if moves else [
        replace(file, content=_without(FEEL, file.text).encode())
        if file.path == PurePosixPath("runtime/__init__.py") else file for file in files]


def _without(package: str, source: str) -> str:
    """A package's file without what it takes from an inner one."""
    tree = ast.parse(source)
    gone = next(node for node in tree.body
                if isinstance(node, ast.ImportFrom) and node.module == package)
    names = next(node for node in tree.body if isinstance(node, ast.Assign))
    left = sorted(set(ast.literal_eval(names.value)) - {name.name for name in gone.names})
    lines = source.splitlines()
    kept = [line for at, line in enumerate(lines[: names.lineno - 1], 1) if at != gone.lineno]
    return "\n".join([*kept, f"__all__ = {pretty(left, 0, len('__all__ = '))}", ""])


class QtWidgets:
    id = "qtwidgets"
    title = "Qt Widgets"
    summary = "A package with a QPushButton subclass per control, in Python (PySide6 or PyQt6)"
    taken = members(Path(__file__).parent / "members.txt")
    signals = SIGNALS
    takes_arguments = True
    keeps_places = False

    def own_files(self, control: Control) -> list[str]:
        return [str(self.main_file(control))]

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        sheet = sheet_of(kit, control)
        return plan(sheet, QtInstrument(sheet))

    def class_name(self, control: Control) -> str:
        name = camel(control.id)
        return name if name.endswith("Button") else f"{name}Button"

    def main_file(self, control: Control) -> PurePosixPath:
        name = control.id.replace("-", "_")
        return PurePosixPath(name if name.endswith("button") else f"{name}_button").with_suffix(
            ".py"
        )

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        chosen = list(controls)
        sheets = [sheet_of(kit, control) for control in chosen]
        modules: list[OutFile] = []
        pictures: dict[PurePosixPath, OutFile] = {}
        for control, sheet in zip(chosen, sheets, strict=True):
            path = self.main_file(control)
            source, pngs = module_source(sheet, self.class_name(control), path.stem)
            modules.append(OutFile(path, source.encode(), "python"))
            for name, png in pngs.items():
                pictures[PICTURES / name] = OutFile(PICTURES / name, png)
        package = package_source(kit.name, {
            self.class_name(control): self.main_file(control).stem for control in chosen})
        known = str(modules[0].path) if modules else "__init__.py"
        shared = [OutFile(PurePosixPath("__init__.py"), package.encode(), "python"),
                  OutFile(DESIGNER, designer_source(kit.name, known).encode(), "python")]
        if functions := called(sheets):
            shared.append(OutFile(
                PurePosixPath("formulas.py"), formulas_source(functions).encode(), "python"))
        shared += runtime_files(any(b"feel=runtime.Feel" in file.content for file in modules))
        fonts = font_files({font for sheet in sheets for font in sheet.fonts},
                           PurePosixPath("fonts"))
        return [*modules, *shared, *pictures.values(), *fonts, *sound_files(sheets)]

    def single(self, kit: Kit, controls: Iterable[Control], files: list[OutFile]) -> OutFile:
        """The files of these controls as one module."""
        chosen = list(controls)
        name = str(self.main_file(chosen[0])) if len(chosen) == 1 else "controls.py"
        return single_module(files, name)

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        module, name = self.main_file(control).stem, self.class_name(control)
        variable = control.id.replace("-", "_")
        given = required_arguments(sheet_of(kit, control), f"on_{variable}")
        return (
            f"from controls.{module} import {name}\n\n"
            f"{variable} = {name}({literal(control.text)}{given})\n"
            f"{variable}.clicked.connect(on_{variable})\n"
            f"layout.addWidget({variable})\n",
            "python",
        )

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        """Each density runs in a Python process of its own, with Qt's offscreen platform."""
        taken: list[Taken] = []
        for scale in sorted({shot.scale for shot in shots}):
            batch = [shot for shot in shots if shot.scale == scale]
            with tempfile.TemporaryDirectory(prefix="mektel-shots-") as made:
                done = len(taken)
                run(kit, batch, Path(made), backdrop, scale,
                    lambda shot: (folder / self.main_file(shot.control),
                                  self.class_name(shot.control)),
                    lambda at, text, done=done: progress(  # type: ignore[misc]
                        done + at, len(shots), text))
                for at, shot in enumerate(batch):
                    pixels = pixels_from_png((Path(made) / f"{at}.png").read_bytes())
                    report = json.loads((Path(made) / f"{at}.json").read_text())
                    taken.append(Taken(shot, pixels, tuple(report["box"]), tuple(report["signals"]),
                                       tuple(report["hits"]), report["text"]))
        return taken

    def expected(self, sheet: Sheet, trial: Trial) -> Mapping[str, Any]:
        return conduct.expected(sheet, trial)

    def observe(
        self, kit: Kit, trials: Sequence[Trial], folder: Path, backdrop: str, progress: Progress
    ) -> list[Observed]:
        """In a process of its own, as for pictures."""
        with tempfile.TemporaryDirectory(prefix="mektel-trials-") as made:
            return conduct.observe(
                kit, trials, backdrop, Path(made),
                lambda trial: (folder / self.main_file(trial.control),
                               self.class_name(trial.control)),
                lambda at, text: progress(at, len(trials), text))

    def film(
        self, kit: Kit, shots: list[MotionShot], folder: Path, backdrop: str, progress: Progress
    ) -> list[list[Pixels]]:
        """Frames with the clock of all controls held, in a process of its own as for states."""
        with tempfile.TemporaryDirectory(prefix="mektel-frames-") as made:
            run(kit, shots, Path(made), backdrop, shots[0].scale if shots else 1,
                lambda shot: (folder / self.main_file(shot.control),
                              self.class_name(shot.control)),
                lambda at, text: progress(at, len(shots), text))
            return [[pixels_from_png((Path(made) / f"{at}-{number}.png").read_bytes())
                     for number in range(len(shot.moments))] for at, shot in enumerate(shots)]
