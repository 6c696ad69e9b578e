"""Every text that a user may read, with its place: to be read through with a stranger's eye.

Run: .venv/bin/python tools/strings.py [FOLDER…], by default all of src/mektel. What is code in a
string (keys, style, templates) is left out as far as that can be told.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "mektel"
# What words look like: a capital and small letters, or two words in a row.
WORDS = re.compile(r"[A-Z][a-z]+|[a-z’]+ [a-z’]+")
CODE = re.compile(r"[{}<>=;]|\w\(|^\w+/\w+|^[a-z_.-]+$|--[a-z]|^#")


def texts_in(path: Path) -> Iterator[tuple[int, str]]:
    """The line and the text of each; parts that are put in stand as ``…``."""
    tree = ast.parse(path.read_text())
    documented = {id(node.body[0].value) for node in ast.walk(tree)
                  if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef)
                  and node.body and isinstance(node.body[0], ast.Expr)}
    inside = {id(part) for node in ast.walk(tree) if isinstance(node, ast.JoinedStr)
              for part in node.values}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            text = "".join(part.value if isinstance(part, ast.Constant) else "…"
                           for part in node.values)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and not (
                id(node) in documented or id(node) in inside):
            text = node.value
        else:
            continue
        if WORDS.search(text) and not CODE.search(text):
            yield node.lineno, " ".join(text.split())


def main() -> None:
    folders = [Path(name) for name in sys.argv[1:]] or [SOURCE]
    for folder in folders:
        for path in sorted(folder.rglob("*.py")):
            for line, text in sorted(texts_in(path)):
                print(f"{path.resolve().relative_to(ROOT)}:{line}: {text}")


if __name__ == "__main__":
    main()
