"""The kit file: readable JSON in UTF-8 with a stable key order and a format version."""

from __future__ import annotations

import contextlib
import json
import os
import re
import tempfile
from pathlib import Path
from typing import Any

from mektel.core.errors import DocumentError, MektelError
from mektel.core.kit import Kit, kit_from_data

SUFFIX = ".mektel"
LARGEST_FILE = 64 * 1024 * 1024
DEEPEST = 32


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
    return int(data) if isinstance(data, float) and data.is_integer() else data


def _on_one_line(match: re.Match[str]) -> str:
    return f"[{', '.join(match[0].strip('[]').replace(',', ' ').split())}]"


def kit_from_text(text: str, source: str = "kit") -> Kit:
    """Raises :class:`KitFileError` naming line and column, or the place in the document."""
    try:
        data = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_unique)
    except json.JSONDecodeError as error:
        raise KitFileError(
            f"{source}: line {error.lineno}, column {error.colno}: {error.msg}. "
            "This is not valid JSON."
        ) from None
    except RecursionError:
        raise KitFileError(f"{source}: nested deeper than {DEEPEST} levels.") from None
    except ValueError as error:
        raise KitFileError(f"{source}: {error}.") from None
    if _depth(data) > DEEPEST:
        raise KitFileError(f"{source}: nested deeper than {DEEPEST} levels.")
    try:
        return kit_from_data(data)
    except DocumentError as error:
        raise KitFileError(f"{source}: {error}") from None


def read_kit(path: Path) -> Kit:
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise KitFileError(f"{path}: larger than 64 MB, so it is not read.")
        text = path.read_text(encoding="utf-8")
    except UnicodeDecodeError as error:
        raise KitFileError(f"{path}: byte {error.start} is not UTF-8 text.") from None
    except OSError as error:
        raise KitFileError(f"{path}: {error.strerror or error}.") from None
    return kit_from_text(text, str(path))


def read_limited(path: Path, largest: int) -> bytes:
    """A file's content, if it is no larger. Raises :class:`KitFileError`."""
    try:
        if path.stat().st_size > largest:
            raise KitFileError(f"{path}: larger than {largest // 2**20} MB, so it is not read.")
        return path.read_bytes()
    except OSError as error:
        raise KitFileError(f"{path}: {error.strerror or error}.") from None


def write_kit(kit: Kit, path: Path) -> None:
    """Writes beside the target, syncs, then renames: the old file or the new one, never half."""
    write_atomically(path, kit_to_text(kit).encode("utf-8"))


def write_atomically(path: Path, content: bytes) -> None:
    target = path.resolve()
    temporary: str | None = None
    try:
        mode = target.stat().st_mode & 0o777 if target.exists() else 0o666 & ~_umask()
        handle, temporary = tempfile.mkstemp(prefix=f".{target.name}.", dir=target.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).chmod(mode)
        Path(temporary).replace(target)
    except OSError as error:
        if temporary:
            with contextlib.suppress(OSError):
                Path(temporary).unlink()
        raise KitFileError(f"{path}: not written: {error.strerror or error}.") from None


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


def _refuse_constant(name: str) -> None:
    raise ValueError(f"{name} is not a number that a kit may hold")


def _unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise ValueError(f"the key “{key}” stands twice in one object")
        found[key] = value
    return found


def _depth(data: Any) -> int:
    deepest, todo = 0, [(data, 1)]
    while todo:
        value, level = todo.pop()
        deepest = max(deepest, level)
        if isinstance(value, dict):
            todo += [(child, level + 1) for child in value.values()]
        elif isinstance(value, list):
            todo += [(child, level + 1) for child in value]
    return deepest
