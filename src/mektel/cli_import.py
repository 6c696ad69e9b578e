"""Bringing things into a kit on the command line: ``mektel import`` and ``mektel read``."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import click

from mektel.cli_options import NamedPath, Number
from mektel.core.errors import MektelError


class UsageError(MektelError):
    """Something in the words of a command."""


def title_of(text: str) -> str:
    """A kit's name from a file's: what a name cannot hold is left out."""
    kept = "".join(letter for letter in text if letter.isprintable()).strip()
    return kept[:80].strip() or "Kit"


@click.command("import")
@click.argument("files", type=NamedPath(), nargs=-1, required=True)
@click.option("--kit", "kit_path", type=NamedPath())
@click.option("--name", help="The new control's name; the file's name by default.")
@click.option("--selector", "selectors", multiple=True,
              help="Which element of a style sheet, such as .button.primary; may be repeated.")
@click.option("--html", "page", type=NamedPath(),
              help="The page in which the selector is looked up.")
@click.option("--list", "listing", is_flag=True,
              help="Only list what of a style sheet or a sheet of pictures can be imported.")
@click.option("--states", help="Which states stand on a sheet of pictures, in reading order, "
              "such as rest,hover,pressed.")
@click.option("--density", type=Number(0.5, 4),
              help="Pixels of the pictures per px, where their names do not say it.")
def import_(
    files: tuple[Path, ...], kit_path: Path | None, name: str | None, selectors: tuple[str, ...],
    page: Path | None, listing: bool, states: str | None, density: float | None,
) -> None:
    """Put a drawing (SVG), controls of a style sheet (CSS) or pictures (PNG, WebP, JPEG) into a
    kit, or design tokens (JSON) into its palette.

    Pictures are one for each state, such as horn.png and horn-hover@2x.png, or one sheet of all
    states. The kit is made if need be.
    """
    from mektel.core.kit import Kit
    from mektel.core.kit.bringing_in import Arrival, with_arrivals
    from mektel.core.kit.checking import checked
    from mektel.formats.css import read_css, read_selectors
    from mektel.formats.kitfile import read_kit, write_kit
    from mektel.formats.pictures import SUFFIXES
    from mektel.formats.svg import read_svg

    for each in files:
        if not each.exists():
            raise UsageError(f"{each}: there is no such file.")
    if all(each.suffix.lower() in SUFFIXES for each in files):
        if selectors or page:
            raise UsageError(f"{files[0]}: --selector and --html are for style sheets.")
        _import_pictures(files, kit_path, name, listing, states, density)
        return
    file = files[0]
    if len(files) > 1:
        raise UsageError(f"{files[1]}: several files at once can only be pictures of one control.")
    if states or density:
        raise UsageError(f"{file}: --states and --density are for pictures.")
    kind = file.suffix.lower()
    if kind not in (".svg", ".css", ".json", ".tokens"):
        raise UsageError(
            f"{file}: SVG drawings, CSS style sheets, PNG, WebP and JPEG pictures and design "
            "tokens (JSON) can be imported.")
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
    brought: list[tuple[Arrival, Sequence[object]]] = []
    if kind == ".svg":
        made = read_svg(file, name)
        brought.append((Arrival(made.control, pictures=made.pictures), made.leftovers))
    elif selectors:
        results, bases = read_selectors(file, selectors, page, name or "")
        brought += [(Arrival(control, palette, base), skipped)
                    for (control, skipped, palette), base in zip(results, bases, strict=True)]
    else:
        control, leftovers, palette = read_css(file, name or "")
        brought.append((Arrival(control, palette), leftovers))
    kit = checked(with_arrivals(kit, [arrival for arrival, _ in brought]), kit)
    write_kit(kit, kit_path)
    for new, (_, skipped) in zip(kit.controls[-len(brought):], brought, strict=True):
        click.echo(f"{kit_path}: {new.id}, {len(new.layers)} layers, {len(new.states)} states")
        for entry in skipped:
            click.echo(f"skipped: {entry}")


def _import_pictures(
    paths: tuple[Path, ...], kit_path: Path | None, name: str | None, listing: bool,
    states: str | None, density: float | None,
) -> None:
    from mektel.core.kit import Kit
    from mektel.core.kit.bringing_in import with_arrivals
    from mektel.core.kit.checking import checked
    from mektel.core.kit.conditions import condition_of, parse_flags
    from mektel.core.pictures.as_control import arrival_of, zones_of
    from mektel.core.pictures.layout import equal_bounds
    from mektel.formats.kitfile import read_kit, write_kit
    from mektel.formats.pictures import is_sheet, load, of_files, of_sheet

    files = [load(path) for path in paths]
    if listing:
        for file in files:
            for left, top, right, bottom in file.regions.boxes:
                click.echo(f"{file.path}  {right - left} × {bottom - top} at {left}, {top}")
        return
    if kit_path is None:
        raise UsageError("Say with --kit which kit it is put into.")
    named = [condition_of(parse_flags(word)) for word in states.split(",")] if states else []
    pictures = of_sheet(files[0], named) if named or is_sheet(files) else of_files(files)
    if density:
        pictures = [replace(picture, density=density) for picture in pictures]
    canvas = equal_bounds(pictures)
    arrival, findings = arrival_of(canvas, name or title_of(files[0].guess.title))
    kit = read_kit(kit_path) if kit_path.exists() else Kit(name=title_of(kit_path.stem))
    kit = checked(with_arrivals(kit, [arrival]), kit)
    write_kit(kit, kit_path)
    made, zones = kit.controls[-1], zones_of(canvas)
    click.echo(f"{kit_path}: {made.id}, {made.size[0]:g} × {made.size[1]:g} px, "
               f"{len(canvas.states)} states from pictures, never smaller than "
               f"{zones.smallest[0]:g} × {zones.smallest[1]:g} px")
    for entry in findings:
        click.echo(f"check: {entry}")


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


@click.command()
@click.argument("pictures", nargs=-1, required=True, type=NamedPath())
@click.option("--kit", "kit_path", type=NamedPath(), required=True)
@click.option("--name", help="The new control's name; the file's name by default.")
@click.option("--density", type=Number(0.5, 4),
              help="Pixels of the picture per px; by default what its name says (@2x), or 1.")
@click.option("--text", help="What the label says: its size, weight and place follow from it.")
@click.option("--json", "as_json", is_flag=True, help="Print the result as one line of JSON.")
def read(
    pictures: tuple[Path, ...], kit_path: Path, name: str | None, density: float | None,
    text: str | None, as_json: bool,
) -> None:
    """Read flat pictures (PNG, WebP, JPEG) of a button as layers: outline, face, line, shadow,
    light.

    They are found by fitting our own drawing to the picture. What stands on the face becomes a
    label whose text you set. More pictures, named after states such as horn-hover.png, are read as
    what these change.
    """
    from mektel.core.fit import on_ground
    from mektel.core.fit.changes import compared_states, control_of_states, read_states
    from mektel.core.kit import Kit
    from mektel.core.kit.checking import checked
    from mektel.core.kit.conditions import REST
    from mektel.core.kit.edit import add_control
    from mektel.core.pictures.layout import StatePicture, by_density
    from mektel.formats.kitfile import read_kit, write_kit
    from mektel.formats.pictures import load, of_files

    for picture in pictures:
        if not picture.exists():
            raise UsageError(f"{picture}: there is no such file.")
    files = [load(picture) for picture in pictures]
    states = ([StatePicture(REST, files[0].pixels, files[0].guess.density)] if len(files) == 1
              else by_density(of_files(files)).densest)
    given = {each.condition: on_ground(each.pixels) for each in states}
    readings, scale = read_states(given), density or states[0].density
    control = control_of_states(
        readings, name or title_of(files[0].guess.title), scale, text or "")
    means = {condition: each.mean for condition, each in compared_states(
        given, readings, control, scale, text or "").items()}
    reading = readings[REST]
    kit = read_kit(kit_path) if kit_path.exists() else Kit(name=title_of(kit_path.stem))
    kit = checked(add_control(kit, control), kit)
    write_kit(kit, kit_path)
    made = kit.controls[-1]
    if as_json:
        click.echo(json.dumps({
            "control": made.id, "size": made.size, "corners": made.outline.corners[0],
            "residual": round(reading.residual, 2),
            "layers": [{"name": part.name, "sure": round(part.sure, 2)}
                       for part in reading.layers],
            "states": {condition: round(mean, 2) for condition, mean in means.items()
                       if condition != REST}}))
        return
    click.echo(f"{kit_path}: {made.id}, {made.size[0]:g} × {made.size[1]:g} px, corners "
               f"{made.outline.corners[0]:g} px, mean difference {reading.residual:.2f} of 255")
    for part in reading.layers:
        click.echo(f"{part.name}  {part.sure:.0%} sure")
    for condition, mean in means.items():
        if condition != REST:
            changes = ", ".join(f"{part} {value.replace('_', ' ')}" for part, values in
                                made.states.get(condition, {}).items() for value in values)
            click.echo(f"{condition}  {changes or 'no change'}; mean difference {mean:.2f}")
