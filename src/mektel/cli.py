"""The command line: the same work without a window.

Exit codes: 0 done; 1 a measured difference is over its bar; 2 bad input or usage; 130 stopped by
Ctrl+C.
"""

from __future__ import annotations

import json
import logging
import os
import re
import signal
import sys
from collections.abc import Sequence
from pathlib import Path, PurePosixPath
from typing import Any, NoReturn

import click

from mektel import __version__
from mektel.cli_import import UsageError, import_, read, title_of
from mektel.cli_motion import play
from mektel.cli_options import NamedPath, Number
from mektel.core.errors import MektelError, NotFoundError

BAD_INPUT, STOPPED = 2, 130
# Characters of a message: it may quote what was given.
LONGEST_MESSAGE = 2000


class InterruptedByUserError(Exception):
    """Ctrl+C, or its signal."""


class Commands(click.Group):
    """Takes ``mektel KIT`` and bare ``mektel`` for ``mektel open [KIT]``."""

    def resolve_command(
        self, ctx: click.Context, args: list[str]
    ) -> tuple[str | None, click.Command | None, list[str]]:
        if args and args[0] not in self.commands and not args[0].startswith("-"):
            looks_like_a_file = args[0].endswith(".mektel") or Path(args[0]).exists()
            if not looks_like_a_file:
                raise NotFoundError("command or kit", args[0], sorted(self.commands))
            args = ["open", *args]
        return super().resolve_command(ctx, args)

    def invoke(self, ctx: click.Context) -> Any:
        # click would write an empty line first.
        try:
            return super().invoke(ctx)
        except KeyboardInterrupt:
            raise InterruptedByUserError from None


@click.group(cls=Commands, invoke_without_command=True)
@click.version_option(__version__, prog_name="mektel")
@click.option("--install", is_flag=True, help="Put Mektel into the menus of your desktop.")
@click.option("--uninstall", is_flag=True, help="Remove it from the menus.")
@click.pass_context
def cli(ctx: click.Context, install: bool, uninstall: bool) -> None:
    """Turn a button design into a native, reusable, pressable control.

    mektel [KIT] opens the window.
    """
    if install or uninstall:
        from mektel import desktop

        paths = desktop.install() if install else desktop.uninstall()
        click.echo("\n".join(map(str, paths)) or "It was not installed.")
        ctx.exit()
    if ctx.invoked_subcommand is None:
        _open_window(None, demo=False)


@cli.command("open", hidden=True)
@click.argument("kit", type=NamedPath(), required=False)
def open_(kit: Path | None) -> None:
    """Open the window."""
    _open_window(kit, demo=False)


@cli.command()
def demo() -> None:
    """Open the demo kit, Lantern Ferry."""
    _open_window(None, demo=True)


def _open_window(kit: Path | None, demo: bool) -> None:
    from mektel.app.display import ensure_display

    ensure_display()
    from mektel.app.main import run

    sys.exit(run(kit, demo))


@cli.command()
@click.argument("kit", type=NamedPath())
@click.option("--starter", required=True, help="Which design to begin with.")
def new(kit: Path, starter: str) -> None:
    """Make a kit holding one control from a starter."""
    from mektel.core.kit.edit import rename_kit
    from mektel.formats.kitfile import read_kit, write_kit
    from mektel.samples import starter_files

    files = starter_files()
    if starter.lower() not in files:
        raise NotFoundError("starter", starter, list(files))
    if kit.exists():
        raise UsageError(f"{kit} exists already. Choose another name, or remove it first.")
    made = rename_kit(read_kit(files[starter.lower()]), title_of(kit.stem))
    write_kit(made, kit)
    click.echo(f"{kit}: {made.controls[0].name}")


@cli.command()
def schema() -> None:
    """Print the JSON Schema of kit files."""
    from mektel.formats.kitfile import kit_schema

    click.echo(json.dumps(kit_schema(), indent=2))


@cli.command()
def targets() -> None:
    """List the targets."""
    from mektel.targets import TARGETS

    width = max(len(name) for name in TARGETS)
    for target in TARGETS.values():
        click.echo(f"{target.id:<{width}}  {target.summary}")


@cli.command()
@click.argument("kit", type=NamedPath())
@click.argument("control")
@click.option("--state", default="rest", help="A state, or several joined: hover+pressed.")
@click.option("--size", help="Width x height in px; the control's own by default.")
@click.option("--scale", type=Number(0.1, 8), default=1.0, help="Pixels per px.")
@click.option("--set", "settings", multiple=True, metavar="NAME=VALUE",
              help="Set text, or a value of a layer (face.colour=#2F8C93) for this picture.")
@click.option("--backdrop", default="none", help="A colour to draw on, or none.")
@click.option("--margin", type=click.IntRange(0, 1000), help="Room round the box, in px.")
@click.option("--out", type=NamedPath(), required=True)
def render(
    kit: Path, control: str, state: str, size: str | None, scale: float,
    settings: tuple[str, ...], backdrop: str, margin: int | None, out: Path,
) -> None:
    """Write a control as a picture, and its measures as one line of JSON."""
    from mektel.core.colour import colour_from_text
    from mektel.core.look import Margins, parse_flags, resolve, shared_margins
    from mektel.core.look.scene import rgba
    from mektel.core.paint import on_backdrop
    from mektel.core.paint import render as paint
    from mektel.formats.kitfile import read_kit, write_atomically
    from mektel.formats.png import png_bytes

    document = read_kit(kit)
    chosen = document.control(control)
    for setting in settings:
        document = _with_setting(document, chosen.id, setting)
    chosen = document.control(chosen.id)
    wanted = _parse_size(size) if size else None
    look = resolve(document, chosen, parse_flags(state), wanted)
    for left in look.refused:
        raise UsageError(f"{chosen.name}: “{left.layer}” cannot be drawn: {left.why}")
    room = (
        shared_margins(document, chosen, wanted) if margin is None
        else Margins(margin, margin, margin, margin)
    )
    picture = paint(look, scale, room)
    pixels = picture.rgba
    if backdrop != "none":
        pixels = on_backdrop(pixels, rgba(document, colour_from_text(backdrop)))
    write_atomically(out, png_bytes(pixels))
    click.echo(json.dumps({
        "scale": _plain(scale), "size": list(picture.size), "box": [_plain(v) for v in picture.box],
    }))


def _parse_size(text: str) -> tuple[float, float]:
    match = re.fullmatch(r"(\d+(?:\.\d+)?)[x×](\d+(?:\.\d+)?)", text.strip().lower())
    if not match:
        raise UsageError(f"--size {text}: write width x height in px, such as 240x72.")
    width, height = float(match[1]), float(match[2])
    if not (4 <= width <= 2000 and 4 <= height <= 2000):
        raise UsageError(f"--size {text}: each side must be from 4 to 2000 px.")
    return width, height


def _with_setting(kit: Any, control_id: str, setting: str) -> Any:
    """``text=Go`` or ``layer.value=VALUE``, the value as JSON or as plain words."""
    from mektel.core.colour import colour_from_text
    from mektel.core.errors import DocumentError
    from mektel.core.kit import REST, kit_from_data, value_names
    from mektel.core.kit.edit import set_field, set_value

    name, sign, text = setting.partition("=")
    if not sign:
        raise UsageError(f"--set {setting}: write NAME=VALUE.")
    try:
        value = json.loads(text)
    except (ValueError, RecursionError):
        value = text
    try:
        if name == "text":
            return set_field(kit, control_id, "text", text)
        control = kit.control(control_id)
        if any(parameter.name == name for parameter in control.parameters):
            from mektel.core.kit.parameter_edits import set_parameter

            return set_parameter(kit, control_id, name, default=value)
        part_id, dot, value_name = name.partition(".")
        if not dot:
            raise UsageError(f"--set {name}: there is text, and every layer.value such as "
                             "face.colour.")
        known = value_names(kit.control(control_id).part(part_id))
        if value_name not in known:
            raise NotFoundError(f"value of {part_id}", value_name, known)
        if value_name == "colour" and text not in {swatch.name for swatch in kit.palette}:
            value = colour_from_text(text)
        changed = set_value(kit, control_id, REST, part_id, value_name, value)
        return kit_from_data(changed.model_dump())
    except DocumentError as error:
        raise UsageError(f"--set {name}: {error.reason}") from None
    except RecursionError:
        raise UsageError(f"--set {name}: nested too deep for a value.") from None


def _plain(value: float) -> float | int:
    return int(value) if float(value).is_integer() else round(value, 4)


@cli.command()
@click.argument("kit", type=NamedPath())
@click.argument("controls", nargs=-1)
@click.option("--target", "target_name", required=True)
@click.option("--out", type=NamedPath(), required=True)
@click.option("--force", "replacing", multiple=True, metavar="FILE",
              help="Replace this file of the folder, though Mektel did not write it.")
@click.option("--single", is_flag=True, help="One self-contained module (Qt Widgets).")
@click.option("--sheet-size", type=click.IntRange(256, 16384),
              help="The longest side of a sheet in pixels (sprites); 4096 by default.")
@click.option("--webp", is_flag=True, help="Sheets as lossless WebP, not PNG (sprites).")
@click.option("--pictures", is_flag=True, help="A picture per look beside the sheets (sprites).")
@click.option("--film", "films", multiple=True,
              help="A gesture as frames on the sheets (sprites): press, hover, busy … or rest.")
@click.option("--fps", type=Number(1, 60), default=30.0, help="Frames a second of films.")
def export(
    kit: Path, controls: tuple[str, ...], target_name: str, out: Path,
    replacing: tuple[str, ...], single: bool,
    sheet_size: int | None, webp: bool, pictures: bool, films: tuple[str, ...], fps: float,
) -> None:
    """Write controls (all by default) for a target into a folder; --target tokens writes the
    palette as design tokens.
    """
    from mektel.formats.kitfile import read_kit
    from mektel.targets import ship, target_named

    document = read_kit(kit)
    if target_name == "tokens":
        _export_tokens(document, out, replacing)
        return
    target = target_named(target_name)
    chosen = _chosen(document, controls)
    if sheet_size is not None or webp or pictures or films:
        target = _with_sheets(target, sheet_size, webp, pictures, films, fps)
        if films:
            click.echo(f"films: {target.films_summary(document, chosen)}", err=True)
    if out.exists() and not out.is_dir():
        raise UsageError(f"{out} is a file; --out must be a folder.")
    files = ship(target, document, chosen)
    if single:
        as_one = getattr(target, "single", None)
        if as_one is None:
            raise UsageError(f"--single is for Qt Widgets; {target.title} has several files.")
        files = [as_one(document, chosen, files)]
    _write(files, out, replacing)
    for control in chosen:
        for plan in target.plan(document, control):
            if plan.how != "native" and plan.why:
                click.echo(f"{control.name}, {plan.layer}: {plan.how}: {plan.why}", err=True)


def _with_sheets(
    target: Any, sheet_size: int | None, webp: bool, pictures: bool, films: tuple[str, ...],
    fps: float,
) -> Any:
    from mektel.targets.sprites.target import SpriteTarget

    if not isinstance(target, SpriteTarget):
        raise UsageError("--sheet-size, --webp, --pictures and --film are for sprites; "
                         f"{target.title} has no sheets.")
    return SpriteTarget(sheet_size, "webp" if webp else "png", pictures, films, fps)


def _export_tokens(document: Any, out: Path, replacing: tuple[str, ...]) -> None:
    from mektel.formats.tokens import tokens_to_text
    from mektel.targets import OutFile

    is_file = out.suffix in (".json", ".tokens")
    name = PurePosixPath(out.name if is_file else "tokens.json")
    file = OutFile(name, tokens_to_text(document).encode(), "json")
    _write([file], out.parent if is_file else out, replacing)


def _write(files: Sequence[Any], out: Path, replacing: tuple[str, ...]) -> None:
    from mektel.targets import ForeignFilesError, write_files

    try:
        for path in write_files(files, out, replacing=replacing):
            click.echo(os.path.relpath(path))
    except ForeignFilesError as error:
        raise UsageError(f"{error} Or replace a file with --force {error.paths[0]}.") from None


@cli.command()
@click.argument("kit", type=NamedPath())
@click.option("--target", "target_name", help="Also what this target cannot ship as designed.")
@click.option("--json", "as_json", is_flag=True, help="Print the findings as JSON.")
def check(kit: Path, target_name: str | None, as_json: bool) -> None:
    """Say what is wrong in a kit: links that lead nowhere, formulas without a value."""
    from mektel.core.proof import findings
    from mektel.formats.kitfile import read_kit

    document = read_kit(kit)
    problems = findings(document)
    if target_name is not None:
        from mektel.targets import target_named
        from mektel.targets.naming import clashes, plan_findings

        target = target_named(target_name)
        problems += clashes(target, document, document.controls)
        problems += [finding for control in document.controls
                     for finding in plan_findings(target, document, control)]
    names = {control.id: control.name for control in document.controls}
    if as_json:
        click.echo(json.dumps(
            {"kit": document.name, "findings": [finding.as_data() for finding in problems]},
            indent=2))
    else:
        for finding in problems:
            click.echo(f"{names.get(finding.place.control, document.name)}: {finding}")
    if problems:
        sys.exit(1)
    if not as_json:
        count = len(document.controls)
        controls = "1 control" if count == 1 else f"{count} controls"
        click.echo(f"{document.name}: {controls}, nothing wrong")


@cli.command()
@click.argument("kit", type=NamedPath())
@click.argument("controls", nargs=-1)
@click.option("--target", "target_name", required=True)
@click.option("--scale", type=click.IntRange(1, 3), default=2, help="Pixels per px.")
@click.option("--motion", is_flag=True, help="Changes of state, frame by frame.")
@click.option("--json", "as_json", is_flag=True, help="Print the figures as JSON.")
def verify(
    kit: Path, controls: tuple[str, ...], target_name: str, scale: int, motion: bool,
    as_json: bool,
) -> None:
    """Run the shipped controls in their toolkit, measure the difference, state by state, and try
    how they behave.
    """
    from mektel.cli_motion import print_motion
    from mektel.formats.kitfile import read_kit
    from mektel.targets import target_named
    from mektel.targets.motion import verify_motion
    from mektel.targets.verdict import verdicts

    document = read_kit(kit)
    target = target_named(target_name)
    chosen = _chosen(document, controls)
    if motion:
        films = _with_progress(
            lambda progress: verify_motion(document, chosen, target, progress, scale))
        if not print_motion(films, as_json):
            sys.exit(1)
        return
    matches = _with_progress(lambda progress: verdicts(document, chosen, target, progress, scale))
    if as_json:
        click.echo(json.dumps(
            {"target": target.id, "matches": [match.as_data() for match in matches]}, indent=2
        ))
    else:
        _print_matches(matches)
    if not all(match.passes for match in matches):
        sys.exit(1)


def _with_progress(work: Any) -> Any:
    from rich.console import Console
    from rich.progress import Progress

    console = Console(stderr=True)
    with Progress(console=console, transient=True, disable=not console.is_terminal) as bar:
        task = bar.add_task("", total=None)

        def report(done: int, of: int, text: str) -> bool:
            bar.update(task, completed=done, total=of, description=text)
            return True

        return work(report)


def _print_matches(matches: list[Any]) -> None:
    click.echo("difference of 255       without text           with text")
    click.echo("control     state      mean   p99.9 worst    mean   p99.9 worst   box")
    for match in matches:
        cells = [f"{match.control[:11]:<11} {match.state:<9}"]
        for difference in (match.without_text, match.with_text):
            cells.append(" " * 20 if difference is None else (
                f"{difference.mean:6.2f} {difference.high:6.1f} {difference.worst:5d}"))
        click.echo("  ".join(cells) + f"   {'same' if match.same_box else 'differs'}")
        for fault in match.faults:
            click.echo(f"{'':<12} {'':<9}  {fault}")
    tried = sum(match.behaviour_tried for match in matches)
    if tried:
        wrong = sum(len(match.misbehaves) for match in matches)
        click.echo(f"behaviour: {tried} things tried with real input, "
                   f"{wrong or 'none'} not as designed")


def _chosen(kit: Any, names: tuple[str, ...]) -> list[Any]:
    if not kit.controls:
        raise UsageError("The kit holds no controls yet.")
    return [kit.control(name) for name in names] if names else list(kit.controls)


cli.add_command(import_)
cli.add_command(read)
cli.add_command(play)


def main() -> None:
    """Runs the command line; every failure is one message on standard error."""
    interrupted: list[int] = []

    def stop(number: int, _frame: object) -> None:
        interrupted.append(number)
        # What a browser says that was stopped by the same key is of no interest.
        logging.getLogger("asyncio").disabled = True
        raise KeyboardInterrupt

    signal.signal(signal.SIGINT, stop)
    try:
        status = cli.main(standalone_mode=False)
        sys.exit(status if isinstance(status, int) else 0)
    except click.ClickException as error:
        where = error.ctx.command_path if isinstance(error, click.UsageError) and error.ctx else (
            "mektel")
        click.echo(f"{where}: {error.format_message()}", err=True)
        sys.exit(BAD_INPUT)
    except (click.Abort, KeyboardInterrupt, InterruptedByUserError):
        _end_stopped()
    except MektelError as error:
        if interrupted:
            _end_stopped()
        text = str(error)
        text = text if len(text) <= LONGEST_MESSAGE else f"{text[:LONGEST_MESSAGE]}…"
        click.echo(f"mektel: {text}", err=True)
        sys.exit(BAD_INPUT)
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(0)
    except Exception as error:  # a fault of ours: still no traceback for the user
        if interrupted:
            _end_stopped()
        if os.environ.get("MEKTEL_DEBUG"):
            raise
        click.echo(
            f"mektel: something went wrong inside Mektel ({type(error).__name__}: {error}). "
            "Set MEKTEL_DEBUG=1 to see where.", err=True,
        )
        sys.exit(BAD_INPUT)


def _end_stopped() -> NoReturn:
    click.echo("mektel: stopped.", err=True)
    sys.exit(STOPPED)
