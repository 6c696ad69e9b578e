"""Motion on the command line: ``mektel play``, and what ``verify --motion`` prints."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import click

from mektel.cli_options import NamedPath, Number


@click.command()
@click.argument("kit", type=NamedPath())
@click.argument("control")
@click.option("--gesture", "gesture_name", default="press", show_default=True,
              help="hover, press, tap, tap@0.2,0.5, keys, busy, or a gesture file (JSON).")
@click.option("--fps", type=Number(1, 240), default=60.0, show_default=True,
              help="Frames a second.")
@click.option("--speed", type=Number(0.01, 4), default=1.0, show_default=True,
              help="How fast time goes: 0.25 is a quarter.")
@click.option("--scale", type=Number(0.1, 8), default=1.0, help="Pixels per px.")
@click.option("--backdrop", default="none", help="A colour to draw on, or none.")
@click.option("--strip", is_flag=True, help="All frames in one picture.")
@click.option("--out", type=NamedPath(), required=True,
              help="film.webp or film.png (animated), or a folder of frames.")
def play(
    kit: Path, control: str, gesture_name: str, fps: float, speed: float, scale: float,
    backdrop: str, strip: bool, out: Path,
) -> None:
    """Play a gesture on a control, and write the frames; their measures as one line of JSON."""
    from mektel.core.colour import colour_from_text
    from mektel.core.look.scene import rgba
    from mektel.core.motion.film import film, moments_of
    from mektel.core.motion.gestures import gesture
    from mektel.core.paint import on_backdrop
    from mektel.core.paint import render as paint
    from mektel.core.remember import unkept
    from mektel.formats.film import SUFFIXES, FilmFileError, film_bytes, strip_of, write_frames
    from mektel.formats.gesture import read_gesture
    from mektel.formats.kitfile import read_kit, write_atomically
    from mektel.formats.png import png_bytes

    if (out.suffix and out.suffix not in SUFFIXES) or (strip and out.suffix != ".png"):
        wanted = "one picture ends in .png" if strip else "a film ends in .webp or .png"
        raise FilmFileError(f"{out}: {wanted}.")
    document = read_kit(kit)
    chosen = document.control(control)
    events = read_gesture(Path(gesture_name)) if gesture_name.endswith(".json") else gesture(
        gesture_name)
    with unkept():
        made = film(document, chosen, events, moments_of(document, chosen, events, fps / speed))
        colour = None if backdrop == "none" else rgba(document, colour_from_text(backdrop))
        frames: list[Any] = []
        for at, look in enumerate(made.looks):
            if at and look is made.looks[at - 1]:
                frames.append(frames[-1])
                continue
            picture = paint(look, scale, made.margins)
            frames.append(picture.rgba if colour is None else on_backdrop(picture.rgba, colour))
    if strip:
        write_atomically(out, png_bytes(strip_of(frames)))
    elif out.suffix:
        write_atomically(out, film_bytes(frames, [1 / fps] * len(frames), out.suffix))
    else:
        write_frames(frames, out)
    click.echo(json.dumps({
        "frames": len(frames), "seconds": round(len(frames) / fps, 3),
        "size": [frames[0].shape[1], frames[0].shape[0]], "box": [*picture.box],
    }))


def print_motion(matches: list[Any], as_json: bool) -> bool:
    """Prints how near the frames of every change came; gives whether all are as designed."""
    if as_json:
        click.echo(json.dumps({"motion": [
            {"control": match.control, "from": match.way.start, "to": match.way.goal,
             "turns": match.way.turns,
             "moments": [round(moment, 4) for moment in match.moments],
             "means": [round(mean, 4) for mean in match.means],
             "shifts": [round(shift, 3) for shift in match.shifts], "passes": match.passes}
            for match in matches]}, indent=2))
    else:
        click.echo("mean difference of 255, without text, over the frames of a change; and how far "
                   "(px) the edge lies elsewhere that is farthest away")
        click.echo("control      change                     frames  middle  worst  edges")
        for match in matches:
            middle = sorted(match.means)[len(match.means) // 2]
            mark = "" if match.passes else "   differs"
            click.echo(f"{match.control[:12]:<12} {match.way!s:<26}"
                       f" {len(match.means):6d} {middle:7.2f} {match.worst:6.2f} {match.shift:6.2f}"
                       f"{mark}")
    return all(match.passes for match in matches)
