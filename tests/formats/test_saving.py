"""Saving: a process that ends at any moment, a full disk, links, permissions, two windows."""

from __future__ import annotations

import multiprocessing
import os
import random
import resource
import signal
import time
from pathlib import Path

import pytest

from mektel.core.kit import Kit
from mektel.formats.kitfile import KitFileError, kit_to_text, read_kit, write_kit
from tests.slices import count_of


def _save_for_ever(kits: tuple[Kit, Kit], path: Path, ready: object) -> None:
    ready.set()  # type: ignore[attr-defined]
    while True:
        for kit in kits:
            write_kit(kit, path)


def test_a_process_that_ends_while_it_saves_leaves_a_whole_kit(
    demo_kit: Kit, tmp_path: Path
) -> None:
    kits = (demo_kit, demo_kit.model_copy(update={"name": "Other"}))
    whole = {kit_to_text(kit) for kit in kits}
    path = tmp_path / "kit.mektel"
    write_kit(demo_kit, path)
    fork = multiprocessing.get_context("fork")
    dice = random.Random(7)
    for _ in range(count_of(60, 300)):
        ready = fork.Event()
        process = fork.Process(target=_save_for_ever, args=(kits, path, ready))
        process.start()
        ready.wait(10)
        time.sleep(dice.random() * 0.03)
        os.kill(process.pid or 0, signal.SIGKILL)
        process.join()
        assert path.read_text(encoding="utf-8") in whole
    # What the ended processes left beside the kit goes with the next save.
    write_kit(demo_kit, path)
    assert [one.name for one in tmp_path.iterdir()] == ["kit.mektel"]
    assert read_kit(path) == demo_kit


def test_a_full_disk_leaves_the_old_kit(demo_kit: Kit, tmp_path: Path) -> None:
    path = tmp_path / "kit.mektel"
    write_kit(Kit(name="Old"), path)
    usual = resource.getrlimit(resource.RLIMIT_FSIZE)
    before = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    try:
        resource.setrlimit(resource.RLIMIT_FSIZE, (4096, usual[1]))
        with pytest.raises(KitFileError, match=r"not written: File too large"):
            write_kit(demo_kit, path)
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, usual)
        signal.signal(signal.SIGXFSZ, before)
    assert read_kit(path).name == "Old"
    assert [one.name for one in tmp_path.iterdir()] == ["kit.mektel"]


def test_a_folder_that_cannot_be_written_is_told(demo_kit: Kit) -> None:
    with pytest.raises(KitFileError, match="not written"):
        write_kit(demo_kit, Path("/proc/kit.mektel"))


def test_links_are_followed_and_permissions_kept(demo_kit: Kit, tmp_path: Path) -> None:
    real = tmp_path / "real.mektel"
    write_kit(demo_kit, real)
    real.chmod(0o640)
    link = tmp_path / "link.mektel"
    link.symlink_to(real)
    write_kit(Kit(name="Through"), link)
    assert link.is_symlink() and read_kit(real).name == "Through"
    assert real.stat().st_mode & 0o777 == 0o640
    one, two = tmp_path / "one.mektel", tmp_path / "two.mektel"
    one.symlink_to(two)
    two.symlink_to(one)
    for act in (lambda: write_kit(demo_kit, one), lambda: read_kit(one)):
        with pytest.raises(KitFileError, match=r"one.mektel"):
            act()
    write_kit(demo_kit, tmp_path / f"{'n' * 200}.mektel")
    assert read_kit(tmp_path / f"{'n' * 200}.mektel") == demo_kit
