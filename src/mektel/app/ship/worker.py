"""Writing and running shipped controls off the interface thread, with progress and cancel."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from PySide6.QtCore import QThread, Signal

from mektel.app.faults import faults
from mektel.core.errors import MektelError
from mektel.core.kit import Kit
from mektel.core.stopping import StoppedError, while_wanted
from mektel.targets import CancelledError, TargetError, ship, target_named, write_files
from mektel.targets.match import Match
from mektel.targets.verdict import verdicts


class ShipWork(QThread):
    """Writes every chosen target and, if wanted, runs each and measures.

    ``measured`` sends (target id, kit, list of :class:`Match`); what was made for a kit that has
    changed since is told apart by that kit.
    """

    progressed = Signal(int, int, str)
    written = Signal(str, object)
    measured = Signal(str, object, object)
    failed = Signal(str, object)

    def __init__(
        self, kit: Kit, targets: list[str], folder: Path, run_too: bool,
        replacing: Collection[str] = (),
    ) -> None:
        super().__init__()
        # Files in the folder that were not written by an export, and are to be replaced.
        self.replacing = replacing
        self.kit, self.targets, self.folder, self.run_too = kit, targets, folder, run_too
        self._wanted = True

    def cancel(self) -> None:
        self._wanted = False

    def run(self) -> None:
        for name in self.targets:
            target = target_named(name)
            try:
                with while_wanted(lambda: self._wanted):
                    files = ship(target, self.kit, self.kit.controls)
                folder = self.folder / name
                paths = write_files(files, folder, self._report, self.replacing)
                self.written.emit(name, paths)
                if self.run_too:
                    matches: list[Match] = verdicts(
                        self.kit, self.kit.controls, target, self._report, folder=folder
                    )
                    self.measured.emit(name, self.kit, matches)
            except CancelledError as error:
                self.failed.emit(name, error)
                return
            except StoppedError:
                self.failed.emit(name, CancelledError("Stopped; nothing was written for it."))
                return
            except MektelError as error:
                self.failed.emit(name, error)
            except Exception as error:
                self.failed.emit(name, inside(error))

    def _report(self, done: int, of: int, text: str) -> bool:
        self.progressed.emit(done, of, text)
        return self._wanted


class PreviewWork(QThread):
    """Generates one target's files to look at; nothing is written."""

    made = Signal(str, object, object)
    failed = Signal(str, object)

    def __init__(self, kit: Kit, target: str) -> None:
        super().__init__()
        self.kit, self.target = kit, target
        self._wanted = True

    def cancel(self) -> None:
        self._wanted = False

    def run(self) -> None:
        try:
            with while_wanted(lambda: self._wanted):
                files = ship(target_named(self.target), self.kit, self.kit.controls)
            self.made.emit(self.target, self.kit, files)
        except StoppedError:
            pass  # the window closes, or the kit has changed
        except MektelError as error:
            self.failed.emit(self.target, error)
        except Exception as error:
            self.failed.emit(self.target, inside(error))


def inside(error: Exception) -> TargetError:
    """A fault of ours as an error of the target; it is logged, and the other targets go on."""
    faults().report(error)
    return TargetError(f"Shipping failed ({type(error).__name__}); the details are in the log.")
