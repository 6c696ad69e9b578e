"""Endless motion: what swings while a state holds."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QMenu

from mektel.app.build.names import value_title
from mektel.app.feel.entries import Entries
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import ChoiceDial, Dial
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.number_dials import NumberDial
from mektel.app.widgets.plain import tip
from mektel.core.kit import REST, Control, Kit, Measure, states_of, value_names
from mektel.core.kit.answers import MOST_SWINGS, WHOLE_VALUES, Swing
from mektel.core.kit.control import CONTROL, is_colour
from mektel.core.kit.moved_values import can_swing
from mektel.core.kit.timing_edits import set_swings

# Ready-made ones: title, what it looks like, and the swing.
READY = (
    ("Bob", "Up and down", Swing(value="y", amplitude=3.0, period=1.6)),
    ("Sway", "Turns back and forth", Swing(value="turn", amplitude=3.0, period=2.4)),
    ("Breathe", "Grows and shrinks", Swing(value="size", amplitude=0.03, period=2.4)),
    ("Spin", "Turns round and round, while busy or always",
     Swing(value="turn", wave="saw", amplitude=180.0, period=1.0)),
)
WAVES = [("sine", "sine"), ("triangle", "triangle"), ("saw", "saw"), ("pulse", "pulse")]
WHOLE = {"x": "sideways", "y": "up and down", "turn": "turn", "size": "size"}
MILLISECONDS = Measure("ms", 100, 20_000, 50, 0)
AMPLITUDE = Measure("", -2000, 2000, 0.1, 2)
PHASE = Measure("%", 0, 1, 0.01, 2)
LIGHTS = ("light", "icon", "symbol", "glow", "gloss")


class Swings(Entries):
    what = "endless motion"
    none = "None. Nothing moves while nobody touches it."

    def entries(self, control: Control) -> tuple[Any, ...]:
        return control.swings

    def kept(self, kit: Kit, entries: tuple[Any, ...]) -> Kit:
        return set_swings(kit, self.bench.control_id, entries)

    def built_for(self, entry: Any) -> Any:
        return entry.colour is not None

    def title(self, control: Control, entry: Any) -> str:
        title = next((title for title, _, swing in READY if (swing.part, swing.value, swing.wave)
                      == (entry.part, entry.value, entry.wave)), "")
        if not title:
            title = dict(swinging_values(control)).get((entry.part, entry.value), entry.value)
        return title if entry.during == REST else f"{title} in {entry.during}"

    def fill(self, menu: QMenu) -> None:
        menu.clear()
        control = self.bench.control
        if control is None:
            return
        ready = [*READY]
        light = next((layer for layer in control.layers if layer.kind in LIGHTS), None)
        if light is not None:
            ready.append(("Blink", f"{light.name} switches on and off", Swing(
                part=light.id, value="opacity", wave="pulse", amplitude=-0.8, period=1.0)))
        shine = next((layer for layer in reversed(control.layers) if layer.kind == "gloss" or (
            getattr(layer, "style", "solid") != "solid")), None)
        if shine is not None:
            ready.append(("Shimmer", f"{shine.name} fades and comes back", Swing(
                part=shine.id, value="opacity", amplitude=-0.4, period=2.0,
                sides="one")))
        for title, said, swing in ready:
            tip(add_action(menu, title, self.add, title, swing, MOST_SWINGS), said)
        menu.addSeparator()
        menus: dict[str, QMenu] = {}
        for (part, value), title in swinging_values(control):
            if part != CONTROL:
                name = control.layer(part).name
                of_layer = menus.setdefault(part, menus.get(part) or menu.addMenu(name))
                add_action(of_layer, title.removeprefix(f"{name}, "), self._add_value, part,
                           value, title)
        menu.setToolTipsVisible(True)

    def _add_value(self, part: str, value: str, title: str) -> None:
        colour = is_colour(value.rsplit(".", 1)[-1])
        self.add(title, Swing(part=part, value=value, amplitude=0.0 if colour else 1.0,
                              colour="#FFFFFF" if colour else None), MOST_SWINGS)

    def dials_of(self, control: Control, entry: Any) -> dict[str, Dial]:
        far: Dial = (ColourDial("Goes to", self) if entry.colour is not None
                     else NumberDial("Goes by", AMPLITUDE, self))
        during: list[tuple[Any, str]] = [(REST, "always"), *(
            (state, f"in {state}") for state in states_of(control.behaviour))]
        if entry.during not in dict(during):  # it behaved otherwise once
            during.append((entry.during, f"in {entry.during}, which never holds"))
        waves: list[tuple[Any, str]] = list(WAVES)
        sides: list[tuple[Any, str]] = [("both", "both sides"), ("one", "one side")]
        sided = {} if entry.colour is not None else {"sides": ChoiceDial("To", sides, self)}
        return {"colour" if entry.colour is not None else "amplitude": far, **sided,
                "wave": ChoiceDial("Wave", waves, self),
                "period": NumberDial("Every", MILLISECONDS, self),
                "phase": NumberDial("Begins at", PHASE, self),
                "during": ChoiceDial("When", during, self)}

    def value(self, entry: Any, name: str) -> Any:
        value = getattr(entry, name)
        return value * 1000 if name == "period" else value

    def changed(self, entry: Any, name: str, value: Any) -> Any:
        return entry.model_copy(
            update={name: round(value / 1000, 3) if name == "period" else value})


def swinging_values(control: Control) -> list[tuple[tuple[str, str], str]]:
    """Every value that can swing, and its title; pairs and stops one by one."""
    values = [((CONTROL, name), f"All of it, {WHOLE[name]}") for name in WHOLE_VALUES]
    for layer in control.layers:
        for name in value_names(layer):
            value = getattr(layer, name)
            paths = [name]
            if name == "stops":
                paths = [f"stops.{at}.colour" for at in range(len(value))] if getattr(
                    layer, "style", "solid") != "solid" else []
            elif isinstance(value, tuple):
                paths = [f"{name}.{at}" for at in range(len(value))] if len(value) == 2 else []
            for path in paths:
                if can_swing(layer, path):
                    steps = path.split(".")
                    which = "" if len(steps) == 1 else f" {int(steps[1]) + 1}"
                    title = f"{layer.name}, {value_title(name).lower()}{which}"
                    values.append(((layer.id, path), title))
    return values
