"""Bringing things into a kit on the command line: ``mektel import``."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import click

from mektel.core.errors import MektelError

if TYPE_CHECKING:
    from mektel.core.kit import Control, Swatch


class UsageError(MektelError):
    """Something in the words of a command."""


def title_of(text: str) -> str:
    """A kit's name from a file's: what a name cannot hold is left out."""
    kept = "".join(letter for letter in text if letter.isprintable()).strip()
    return kept[:80].strip() or "Kit"


@click.command("import")
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--kit", "kit_path", type=click.Path(path_type=Path))
@click.option("--name", help="The new control's name; the file's name by default.")
@click.option("--selector", "selectors", multiple=True,
              help="Which element of a style sheet, such as .button.primary; may be repeated.")
@click.option("--html", "page", type=click.Path(path_type=Path),
              help="The page in which the selector is looked up.")
@click.option("--list", "listing", is_flag=True,
              help="Only list what of a style sheet can be imported.")
def import_(
    file: Path, kit_path: Path | None, name: str | None, selectors: tuple[str, ...],
    page: Path | None, listing: bool,
) -> None:
    """Put a drawing (SVG) or controls of a style sheet (CSS) into a kit, or design tokens (JSON)
    into its palette.

    The kit is made if need be.
    """
    from mektel.core.kit import Kit
    from mektel.core.kit.bringing_in import Arrival, with_arrivals
    from mektel.core.kit.checking import checked
    from mektel.formats.css import LARGEST_SHEET, pressables_of, read_css
    from mektel.formats.kitfile import read_kit, read_limited, write_kit
    from mektel.formats.svg import read_svg

    if not file.exists():
        raise UsageError(f"{file}: there is no such file.")
    kind = file.suffix.lower()
    if kind not in (".svg", ".css", ".json", ".tokens"):
        raise UsageError(
            f"{file}: SVG drawings, CSS style sheets and design tokens (JSON) can be imported.")
    if kind != ".css" and (selectors or page or listing):
        raise UsageError(f"{file}: --selector, --html and --list are for style sheets.")
    if page and not selectors:
        raise UsageError(f"{page}: say with --selector which of its elements is wanted.")
    if listing:
        _list_sheet(file)
        return
    if kit_path is None:
        raise UsageError("Say with --kit which kit it is put into.")
    kit = read_kit(kit_path) if kit_path.exists() else Kit(name=title_of(kit_path.stem))
    if kind in (".json", ".tokens"):
        from mektel.formats.tokens import read_tokens, with_tokens

        tokens = read_tokens(file)
        write_kit(with_tokens(kit, tokens), kit_path)
        click.echo(f"{kit_path}: {len(tokens.palette)} colours, {len(tokens.values)} other "
                   "palette entries")
        for left in tokens.leftovers:
            click.echo(f"not in the palette: {left}")
        return
    brought: list[tuple[Control, Sequence[object], tuple[Swatch, ...]]] = []
    bases: list[str] = []
    if kind == ".css":
        text = read_limited(file, LARGEST_SHEET).decode("utf-8", "replace")
        of = {entry.selector: entry.base for entry in pressables_of(text, str(file))}
        bases = [of.get(selector, "") for selector in selectors]
        brought += [read_css(file, name or "", selector, page) for selector in selectors or ("",)]
    else:
        brought.append((*read_svg(file, name), ()))
    arrivals = [
        Arrival(control, palette,
                selectors.index(bases[at]) if bases and bases[at] in selectors else None)
        for at, (control, _, palette) in enumerate(brought)]
    kit = checked(with_arrivals(kit, arrivals), kit)
    write_kit(kit, kit_path)
    for made, (_, leftovers, _) in zip(kit.controls[-len(brought):], brought, strict=True):
        click.echo(f"{kit_path}: {made.id}, {len(made.layers)} layers, {len(made.states)} states")
        for entry in leftovers:
            click.echo(f"skipped: {entry}")


def _list_sheet(file: Path) -> None:
    from mektel.formats.css import LARGEST_SHEET, open_sheet, pressables
    from mektel.formats.kitfile import read_limited

    text = read_limited(file, LARGEST_SHEET).decode("utf-8", "replace")
    listed = pressables(open_sheet(text, str(file)))
    if not listed:
        raise UsageError(f"{file}: nothing in it describes something pressable.")
    for entry in listed:
        base = f"  builds on {entry.base}" if entry.base else ""
        click.echo(f"{entry.selector}  line {entry.line}{base}")
