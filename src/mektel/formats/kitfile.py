"""The kit file: readable JSON in UTF-8 with a stable key order and a format version."""

from __future__ import annotations

import contextlib
import itertools
import json
import os
import re
from functools import cache
from pathlib import Path
from typing import Any

from mektel.core.errors import DocumentError, MektelError, reading
from mektel.core.kit import Kit, kit_from_data
from mektel.formats.json_text import json_from_text

SUFFIX = ".mektel"
# More than a kit can come to: pictures of ``MOST_PICTURE_BYTES`` and everything else.
LARGEST_FILE = 256 * 1024 * 1024
DEEPEST = 64
# From here on a number is written as 1e+16: readers take no longer whole numbers.
MOST_WHOLE = 1e15
# The kit that was read back last: controls that the next shares with it are not read again.
_read_back = Kit()
ADVICE = "The file is as it was. Undo what you did last, then save again."


class KitFileError(MektelError):
    """A kit file that cannot be read or written; says which file, where in it, and why."""


def kit_to_text(kit: Kit) -> str:
    """The kit as a person would write it: whole numbers without a point, pairs on one line."""
    text = json.dumps(_plain(kit.model_dump(mode="json")), indent=2, ensure_ascii=False)
    return re.sub(r"\[\n[-+.,\deE\s]*\]", _on_one_line, text) + "\n"


def _plain(data: Any) -> Any:
    if isinstance(data, dict):
        return {key: _plain(value) for key, value in data.items()}
    if isinstance(data, list):
        return [_plain(value) for value in data]
    if isinstance(data, float) and data.is_integer() and abs(data) < MOST_WHOLE:
        return int(data)
    return data


def _on_one_line(match: re.Match[str]) -> str:
    return f"[{', '.join(match[0].strip('[]').replace(',', ' ').split())}]"


def kit_from_text(text: str, source: str = "kit") -> Kit:
    """Raises :class:`KitFileError` naming line and column, or the place in the document."""
    data = json_from_text(text, source, KitFileError, DEEPEST)
    with reading(source, KitFileError):
        try:
            return kit_from_data(data)
        except DocumentError as error:
            raise KitFileError(f"{source}: {error}") from None


def read_kit(path: Path) -> Kit:
    return kit_from_text(text_of(read_limited(path, LARGEST_FILE), path), str(path))


@cache
def read_sample(path: Path) -> Kit:
    """A kit that ships with the package, and so does not change: read once."""
    return read_kit(path)


def text_of(content: bytes, path: Path) -> str:
    """UTF-8 content as text; raises :class:`KitFileError` at the byte where it is none."""
    try:
        return content.decode("utf-8")
    except UnicodeDecodeError as error:
        raise KitFileError(f"{path}: byte {error.start} is not UTF-8 text.") from None


def read_limited(path: Path, largest: int) -> bytes:
    """A file's content, if it is no larger; never more than that is read.

    Raises :class:`KitFileError`, also for what is not a plain file.
    """
    try:
        if path.exists() and not path.is_file():
            what = "a folder" if path.is_dir() else "no plain file"
            raise KitFileError(f"{path}: this is {what}, so it is not read.")
        with path.open("rb") as file:
            content = file.read(largest + 1)
    except (OSError, RuntimeError) as error:
        why = error.strerror if isinstance(error, OSError) else "its links lead in a ring"
        raise KitFileError(f"{path}: {why or error}.") from None
    if len(content) > largest:
        raise KitFileError(f"{path}: larger than {size_text(largest)}, so it is not read.")
    return content


def size_text(count: int) -> str:
    """A number of bytes as a person reads it: 512 kB, 8 MB."""
    return f"{count // 2**20} MB" if count >= 2**20 else f"{max(1, count // 2**10)} kB"


def write_kit(kit: Kit, path: Path) -> None:
    """Writes beside the target, syncs, then renames: the old file or the new one, never half.

    Raises :class:`KitFileError`, also where it could not be opened again.
    """
    write_atomically(path, text_read_back(kit).encode("utf-8"))


def text_read_back(kit: Kit) -> str:
    """The text of a kit, once it was read and gave the same kit. Only controls that the kit before
    did not have are read.

    Raises :class:`KitFileError` with the place of what could not be opened again.
    """
    global _read_back
    text = kit_to_text(kit)
    try:
        data = json_from_text(text, "the file", KitFileError, DEEPEST)
        anew = _to_read(kit, {id(control) for control in _read_back.controls})
        data["controls"] = [written if control.id in anew else control for control, written in zip(
            kit.controls, data["controls"], strict=True)]
        again = kit_from_data(data)
    except MektelError as error:
        raise KitFileError(f"This kit could not be opened again: {error} {ADVICE}") from None
    if again != kit:
        other = next(name for name in Kit.model_fields
                     if getattr(again, name) != getattr(kit, name))
        raise KitFileError(f"This kit would be another when opened again, in its {other}. {ADVICE}")
    _read_back = kit
    return text


def _to_read(kit: Kit, known: set[int]) -> set[str]:
    """The ids of the controls that are not known, with what they derive from and what derives from
    them: those are written as what differs between the two.
    """
    bases = {control.id: control.base for control in kit.controls}
    new = {control.id for control in kit.controls if id(control) not in known}
    lines: list[list[str]] = []
    for control in kit.controls:
        line, base = [control.id], control.base
        while base is not None and base not in line:
            line.append(base)
            base = bases.get(base)
        lines.append(line)
    return {name for line in lines if not new.isdisjoint(line) for name in line}


def write_atomically(path: Path, content: bytes, lasting: bool = True) -> None:
    """Writes beside the file, then puts it in its place. Raises :class:`KitFileError`; then the
    old file is as it was. What can be made again need not be ``lasting``: the disk is not waited
    for, and what writers that ended half-way left beside it is the caller's to clear away.
    """
    temporary: Path | None = None
    try:
        target = path.resolve()
        if lasting:
            clear_away(target.parent, _beside(target))
        mode = target.stat().st_mode & 0o777 if target.exists() else 0o666 & ~_umask()
        temporary = target.parent / f"{_beside(target)}{os.getpid()}-{next(_count)}{HALF}"
        with temporary.open("xb") as file:
            file.write(content)
            file.flush()
            if lasting:
                os.fsync(file.fileno())
        temporary.chmod(mode)
        temporary.replace(target)
    except (OSError, RuntimeError) as error:
        if temporary:
            with contextlib.suppress(OSError):
                temporary.unlink()
        # A ring of links is a RuntimeError.
        why = error.strerror if isinstance(error, OSError) else "its links lead in a ring"
        raise KitFileError(f"{path}: not written: {why or error}.") from None


# What is written first is called after the file, the process and a count.
HALF = ".half-written"
PROCESS = re.compile(r"[0-9]{1,9}")
_count = itertools.count(1)


def _beside(target: Path) -> str:
    return f".{target.name[:60]}."


def clear_away(folder: Path, beside: str = ".") -> None:
    """Deletes what processes that have ended left half-written in a folder: beside one file, or
    all of it.
    """
    for left in folder.iterdir():
        if left.name.startswith(beside) and left.name.endswith(HALF):
            number = left.name.removesuffix(HALF).rpartition(".")[2].split("-")[0]
            if PROCESS.fullmatch(number) and not _lives(int(number)):
                with contextlib.suppress(OSError):
                    left.unlink()


def _lives(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True


def kit_schema() -> dict[str, Any]:
    """The JSON Schema (2020-12) of a kit file."""
    schema = Kit.model_json_schema(mode="validation")
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Mektel kit"
    # Written instead of everything else by a control that derives from another.
    schema["$defs"]["Control"]["properties"]["differs"] = {
        "type": "object", "title": "Differs",
        "description": "What lays on the base to give this control; null takes something away.",
    }
    return schema


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
