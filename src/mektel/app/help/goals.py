"""What can be found in a window, and what choosing it does."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from mektel.app.build.content_dials import BOUNDS, CHOICES
from mektel.app.build.content_dials import PREFIX as CONTENT
from mektel.app.build.names import part_name, value_title
from mektel.app.build.pages import pages_of
from mektel.app.help.find import Goal
from mektel.app.help.guide import headings
from mektel.app.window_place import open_window
from mektel.core.drawings.icons import icon_names
from mektel.core.kit import OUTLINE
from mektel.core.kit import edit as edits
from mektel.samples import starter_files

if TYPE_CHECKING:
    from mektel.app.window import Window


# Dials of more than one value, or of the control's own.
COMPOUND = {"=text": "text", "=size": "size", "=gradient": "gradient", "=line": "runs",
            "=own": "outline", "=says": "content", "=box": "area", "=joins": "joined outlines",
            "=arguments": "arguments"}
# What else people look for where they find these.
ALSO = {"form": "corners radius rounded shape", "corners": "radius rounded",
        "=size": "width height", "=gradient": "stops colour", "=joins": "union subtract intersect",
        "move": "position offset", "rotate": "turn angle", "colour": "color paint",
        "opacity": "transparency alpha", "weight": "bold", "family": "font", "spacing": "tracking",
        "line_height": "leading", "blur": "softness", "blend": "mode", "width": "thickness"}
# Controls whose layers can be found from any other.
MOST_SEARCHED = 200


def goals_of(window: Window) -> list[Goal]:
    """Everything that has a name here: what is near first."""
    return [*_commands(window), *_parts(window), *_controls(window), *_palette(window),
            *_starters(window), *_guide(window), *_icons(window)]


def _controls(window: Window) -> list[Goal]:
    """All controls, and the layers of those that are not selected."""
    kit, bench = window.bench.kit, window.bench

    def show(control_id: str, part_id: str) -> None:
        bench.select(control_id)
        _open(window, part_id)

    return [
        *(Goal(control.name, "control", partial(bench.select, control.id))
          for control in kit.controls),
        *(Goal(layer.name, f"layer of {control.name}", partial(show, control.id, layer.id))
          for control in kit.controls[:MOST_SEARCHED] if control.id != bench.control_id
          for layer in control.layers)]


def _parts(window: Window) -> list[Goal]:
    """The layers of the selected control, and the values of each."""
    control = window.bench.settled_control
    if control is None:
        return []
    goals = []
    for part_id in (OUTLINE, *(layer.id for layer in control.layers)):
        part = control.part(part_id)
        title = part_name(control, part_id)
        goals.append(Goal(title, f"layer of {control.name}", partial(_open, window, part_id)))
        kind = getattr(part, "kind", OUTLINE)
        for page, columns in pages_of(part, kind):
            for _, names in columns:
                goals += [
                    Goal(f"{title}, {_said(name)}", "value",
                         partial(_open, window, part_id, kind, page, name),
                         ALSO.get(name.rsplit(".", 1)[-1], ""))
                    for name in names if _said(name)]
    return goals


def _said(name: str) -> str:
    if name.startswith(CONTENT):
        field = name.removeprefix(CONTENT)
        return f"content {(BOUNDS.get(field) or CHOICES.get(field, (field,))[0]).lower()}"
    if name.startswith("="):
        return COMPOUND.get(name, "")
    return value_title(name.rsplit(".", 1)[-1]).lower()


def _open(window: Window, part_id: str, kind: str = "", page: str = "", name: str = "") -> None:
    window.go_to("Build")
    window.bench.select(part_id=part_id)
    card = window.build.strip.card
    if page:
        card.edit_value(kind, page, name)


def _palette(window: Window) -> list[Goal]:
    def show(name: str) -> None:
        window.go_to("Reuse")
        window.reuse.palette_side.choose(name)

    kit = window.bench.kit
    return [*(Goal(swatch.name, "palette colour", partial(show, swatch.name), swatch.note)
              for swatch in kit.palette),
            *(Goal(entry.name, f"palette {entry.type.replace('-', ' ')}",
                   partial(window.go_to, "Reuse"), entry.note) for entry in kit.values)]


def _starters(window: Window) -> list[Goal]:
    return [Goal(f"New {name}", "starter", partial(window.bench.add_starter, name))
            for name in starter_files()]


def _commands(window: Window) -> list[Goal]:
    bench = window.bench
    commands: dict[str, tuple[Callable[[], object], str]] = {
        "Undo": (bench.undo, "Ctrl+Z"), "Redo": (bench.redo, "Ctrl+Shift+Z"),
        "Save": (window.save, "Ctrl+S"), "Save as": (window.ask_save, "Ctrl+Shift+S"),
        "Open": (window.ask_open, "Ctrl+O"), "New kit": (window.ask_new, "Ctrl+N"),
        "Read a picture as layers": (window.ask_reading, ""),
        "Import drawings, CSS or pictures": (window.ask_import, "Ctrl+I"),
        "Paste": (window.paste, "Ctrl+V"),
        "New empty control": (bench.add_empty, ""),
        "Close-up": (lambda: bench.view(loupe=bench.state), "L"),
        "Guide": (window.show_guide, "F1"), "Walk along the route": (window.start_walk, ""),
        "New window": (open_window, "Ctrl+Shift+N"),
        "Theme: as the desktop": (partial(window.set_theme, "desktop"), ""),
        "Theme: light": (partial(window.set_theme, "light"), ""),
        "Theme: dark": (partial(window.set_theme, "dark"), ""),
        **{f"Go to {room}": (partial(window.go_to, room), f"Ctrl+{at}")
           for at, room in enumerate(("Build", "Feel", "Reuse", "Ship"), 1)},
    }
    return [Goal(name, keys or "command", act, "command") for name, (act, keys) in commands.items()]


def _icons(window: Window) -> list[Goal]:
    """The shipped icons: for the selected icon layer, or as a new one."""
    bench = window.bench

    def take(name: str) -> None:
        control = bench.control
        if control is None:
            return
        if bench.part_id != OUTLINE and control.layer(bench.part_id).kind == "icon":
            bench.set_value(bench.part_id, "icon", name, f"icon {name}")
        else:
            before = {layer.id for layer in control.layers}
            if not bench.edit(f"new icon {name}", lambda kit: edits.add_layer(
                    kit, control.id, "icon", "Icon", icon=name)):
                return
            added = bench.kit.control(control.id).layers
            bench.select(part_id=next(layer.id for layer in added if layer.id not in before))
        window.go_to("Build")

    if bench.control is None:
        return []
    return [Goal(name.replace("-", " "), "icon", partial(take, name), name, last=True)
            for name in icon_names()]


def _guide(window: Window) -> list[Goal]:
    return [Goal(title, "guide", partial(window.show_guide, title)) for title in headings()]
