"""A package as one module: its runtime, its controls, and its files in base64."""

from __future__ import annotations

import ast
import base64
import io
import textwrap
import tokenize
from collections.abc import Callable, Sequence
from pathlib import PurePosixPath

from mektel.targets.base import OutFile
from mektel.targets.qtwidgets.literals import pretty

# Names of a control's module that others have, too.
OWN = frozenset({"REST", "CHANGES", "RINGS", "AREAS", "TIMINGS", "ICONS", "PALETTE"})
RUNTIME = PurePosixPath("runtime")
FILES = "FILES"
NO_CONTROLS = ("__init__", "formulas", "register_designer")
# What is imported from each module; None for modules themselves.
Imports = dict[str | None, set[str]]


def single_module(files: Sequence[OutFile], name: str) -> OutFile:
    """What a package has, in ``name``; made of the package's files."""
    sources = {file.path: file.text for file in files if file.language == "python"}
    assets = {str(file.path): file.content for file in files if file.language != "python"}
    runtime = {path.relative_to(RUNTIME).with_suffix(""): source
               for path, source in sources.items()
               if path.is_relative_to(RUNTIME) and path.stem != "__init__"}
    own = {path.stem: source for path, source in sources.items()
           if not path.is_relative_to(RUNTIME) and path.stem not in NO_CONTROLS}
    formulas = sources.get(PurePosixPath("formulas.py"))
    imports: Imports = {}
    bodies = [_body(runtime[path], imports) for path in _in_order(runtime)]
    computed = _defined(formulas) if formulas else frozenset()
    bodies += [_with_names(_body(formulas, imports), computed)] if formulas else []
    bodies += [_of_control(_body(source, imports), stem.upper(), computed)
               for stem, source in own.items()]
    package = sources[PurePosixPath("__init__.py")]
    # As it stands there, where what is of the kit in it was made a literal.
    docstring = ast.get_source_segment(package, ast.parse(package).body[0]) or ""
    head = "\n".join([docstring, "", "from __future__ import annotations", "",
                      *_import_lines(imports)])
    classes = sorted(node.name for source in own.values() for node in ast.parse(source).body
                     if isinstance(node, ast.ClassDef))
    bodies.append(f"__all__ = {pretty(classes)}")
    text = f"{head}\n\n" + "\n\n\n".join([_assets(assets), *bodies]) + "\n"
    return OutFile(PurePosixPath(name), text.encode(), "python")


def _import_lines(imports: Imports) -> list[str]:
    plain = [f"import {name}" for name in sorted(imports.get(None, ()))]
    return plain + [f"from {module} import {', '.join(sorted(imports[module], key=_by_type))}"
                    for module in sorted(filter(None, imports))]


def _by_type(name: str) -> tuple[bool, bool, str]:
    """Constants, then classes, then the rest."""
    return not name.isupper(), not name[0].isupper(), name


def _in_order(modules: dict[PurePosixPath, str]) -> list[PurePosixPath]:
    """The modules, each after those that it imports when it is loaded."""
    needs = {path: {path.parents[node.level - 1] / node.module for node in ast.parse(source).body
                    if isinstance(node, ast.ImportFrom) and node.level and node.module}
             for path, source in modules.items()}
    order: list[PurePosixPath] = []
    while len(order) < len(modules):
        order += [path for path in sorted(modules)
                  if path not in order and needs[path] <= set(order)]
    return order


def _body(source: str, imports: Imports) -> str:
    """A module without its docstring and imports; those of other packages go to ``imports``."""
    lines, tree = source.splitlines(), ast.parse(source)
    gone: set[int] = set()
    for at, node in enumerate(tree.body):
        docstring = at == 0 and isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
        exported = isinstance(node, ast.Assign) and any(
            isinstance(name, ast.Name) and name.id == "__all__" for name in node.targets)
        typing = isinstance(node, ast.If) and any(
            isinstance(inner, ast.ImportFrom) and inner.level for inner in node.body)
        if isinstance(node, ast.Import | ast.ImportFrom):
            if not (isinstance(node, ast.ImportFrom) and (
                    node.level or node.module == "__future__")):
                names = {name.name for name in node.names}
                from_ = node.module if isinstance(node, ast.ImportFrom) else None
                imports.setdefault(from_, set()).update(names)
        elif not (docstring or exported or typing):
            continue
        gone |= set(range(node.lineno, (node.end_lineno or node.lineno) + 1))
    return "\n".join(line for number, line in enumerate(lines, 1) if number not in gone).strip()


def _defined(source: str) -> frozenset[str]:
    return frozenset(node.name for node in ast.parse(source).body
                     if isinstance(node, ast.FunctionDef))


def _with_names(source: str, names: frozenset[str]) -> str:
    """The formulas' file: its functions have names that the runtime's own do not have."""
    return _edited(source, lambda before, token, after: (
        f"formula_{token}" if token in names and before != "." else token))


def _of_control(source: str, prefix: str, computed: frozenset[str]) -> str:
    """A control's module beside others: its own names with a prefix, the runtime's without."""
    def name(before: str, token: str, after: str) -> str:
        if token in OWN:
            return f"{prefix}_{token}"
        if token in computed and after == "(" and before not in (".", "def"):
            return f"formula_{token}"
        return token

    plain = _edited(source, name).replace("files=Path(__file__).parent", f"files={FILES}")
    return _edited(plain, lambda _before, token, after: (
        "" if token == "runtime" and after == "." else token))


def _edited(source: str, edit: Callable[[str, str, str], str]) -> str:
    """The source with other names; ``edit`` is given what stands before, the name, and what
    follows. A name that goes takes the dot after it along.
    """
    tokens = list(tokenize.generate_tokens(io.StringIO(source).readline))
    lines = source.splitlines()
    for at in range(len(tokens) - 1, -1, -1):
        token = tokens[at]
        if token.type != tokenize.NAME:
            continue
        made = edit(tokens[at - 1].string if at else "", token.string, tokens[at + 1].string)
        if made != token.string:
            (row, start), end = token.start, (token.end if made else tokens[at + 1].end)[1]
            line = lines[row - 1]
            lines[row - 1] = line[:start] + made + line[end:]
    return "\n".join(lines)


def _assets(assets: dict[str, bytes]) -> str:
    lines = ["# Fonts and pictures.", f"{FILES} = {{"]
    for name, content in assets.items():
        lines.append(f'    "{name}": (')
        encoded = base64.b64encode(content).decode()
        lines += [f'        "{part}"' for part in textwrap.wrap(encoded, 88)]
        lines.append("    ),")
    return "\n".join([*lines, "}"])
