"""Writing what ships into a folder in which other files may lie: only what an export wrote is ever
replaced. A list beside the files, ``mektel-files.json``, says which those are.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
from collections.abc import Collection, Sequence
from pathlib import Path
from typing import Any

from mektel.formats.json_text import json_from_text
from mektel.formats.kitfile import clear_away, read_limited, text_of, write_atomically
from mektel.targets.base import CancelledError, OutFile, Progress, TargetError

MANIFEST = "mektel-files.json"
NOTE = "Files that Mektel wrote here, and their SHA-256. An export replaces these and no others."
LARGEST_MANIFEST = 16 * 2**20
MOST_NAMED = 6


class ForeignFilesError(TargetError):
    """Files stand in the way that no export wrote, or that were changed since; nothing was
    written. ``paths`` are relative to the folder.
    """

    def __init__(self, folder: Path, paths: Sequence[str]) -> None:
        self.folder, self.paths = folder, tuple(paths)
        named = ", ".join(paths[:MOST_NAMED])
        more = f" and {len(paths) - MOST_NAMED} more" if len(paths) > MOST_NAMED else ""
        many = len(paths) > 1
        super().__init__(
            f"{folder} has {'files' if many else 'a file'} that Mektel did not write, or that "
            f"{'were' if many else 'was'} changed since: {named}{more}. Nothing was written. "
            f"Choose another folder, or move {'them' if many else 'it'} away.")


def write_files(
    files: Sequence[OutFile], folder: Path, progress: Progress | None = None,
    replacing: Collection[str] = (),
) -> list[Path]:
    """Writes files below ``folder``, each atomically; one that is there as it would be written is
    left alone. Nothing lands outside the folder.

    Raises :class:`ForeignFilesError` before anything is written where a file is in the way that no
    export wrote; those named in ``replacing``, relative to the folder, are replaced.
    """
    with _told(folder):
        root = folder.resolve()
    paths = _paths(files, root, folder)
    known = _manifest(root)
    new = {str(file.path): _hash(file.content) for file in files}
    foreign = [
        name for name, path, content in zip(
            new, paths, (file.content for file in files), strict=True)
        if name not in replacing and _is_foreign(path, content, known.get(name, ()))]
    if foreign:
        raise ForeignFilesError(folder, foreign)
    # Whatever stops the writing half-way, each file is then known as it was or as it is.
    _note(root, {**known, **{name: (hash_, *known.get(name, ())[:1])
                             for name, hash_ in new.items()}})
    folders: set[Path] = set()
    for at, (file, path) in enumerate(zip(files, paths, strict=True)):
        if progress and not progress(at, len(files), f"writing {file.path}"):
            raise CancelledError(f"Stopped; {at} of {len(files)} files were written.")
        if path.parent not in folders:
            with _told(path.parent):
                path.parent.mkdir(parents=True, exist_ok=True)
                clear_away(path.parent)
            folders.add(path.parent)
        if not _is_there(path, file.content):
            write_atomically(path, file.content, lasting=False)
    _note(root, {**known, **{name: (hash_,) for name, hash_ in new.items()}})
    return paths


def _paths(files: Sequence[OutFile], root: Path, folder: Path) -> list[Path]:
    paths, folders = [], set()  # folders known to lie within
    for file in files:
        path = root.joinpath(*file.path.parts)
        if ".." in file.path.parts or path.is_symlink() or path.parent not in folders:
            with _told(path):
                inside = path.resolve().is_relative_to(root)
            if not inside:
                raise TargetError(
                    f"{file.path} would lie outside {folder}; nothing is written there.")
            folders.add(path.parent)
        paths.append(path)
    return paths


@contextlib.contextmanager
def _told(path: Path) -> Any:
    try:
        yield
    except OSError as error:
        raise TargetError(f"{path}: cannot be used: {error.strerror}.") from None
    except RuntimeError:
        raise TargetError(f"{path}: cannot be used: its links lead in a ring.") from None


def _hash(content: bytes) -> str:
    return hashlib.sha256(content).hexdigest()


def _is_there(path: Path, content: bytes) -> bool:
    with contextlib.suppress(OSError):
        return path.stat().st_size == len(content) and path.read_bytes() == content
    return False


def _is_foreign(path: Path, content: bytes, known: Sequence[str]) -> bool:
    if not (path.exists() or path.is_symlink()) or _is_there(path, content):
        return False
    with contextlib.suppress(OSError):
        return not path.is_file() or _hash(path.read_bytes()) not in known
    return True


def _manifest(root: Path) -> dict[str, tuple[str, ...]]:
    """The hashes that a file of an export may have, by its path. Two for one that was being written
    when Mektel was ended.
    """
    path = root / MANIFEST
    if not path.exists():
        return {}
    text = text_of(read_limited(path, LARGEST_MANIFEST), path)
    data = json_from_text(text, str(path), TargetError, 4)
    files = data.get("files") if isinstance(data, dict) else None
    if not isinstance(files, dict):
        raise TargetError(f"{path}: this is not the list of files of an export. Move it away.")
    known = {}
    for name, hashes in files.items():
        listed = hashes if isinstance(hashes, list) else [hashes]
        known[name] = tuple(entry for entry in listed if isinstance(entry, str))
    return known


def _note(root: Path, known: dict[str, tuple[str, ...]]) -> None:
    files = {name: hashes[0] if len(hashes) == 1 else list(hashes)
             for name, hashes in sorted(known.items())}
    text = json.dumps({"note": NOTE, "files": files}, indent=2, ensure_ascii=False) + "\n"
    path = root / MANIFEST
    with _told(root):
        root.mkdir(parents=True, exist_ok=True)
    if not _is_there(path, text.encode()):
        write_atomically(path, text.encode(), lasting=False)
