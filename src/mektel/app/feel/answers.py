"""Answers to touch: which a control has, and the values of the chosen one."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QMenu

from mektel.app.build.names import value_title
from mektel.app.dialogs import SOUND_FILES, ask_open
from mektel.app.feel.entries import Entries
from mektel.app.notices import Notice
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import ChoiceDial, Dial, YesNoDial
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.number_dials import NumberDial
from mektel.app.widgets.plain import tip
from mektel.app.widgets.timing_dials import MILLISECONDS
from mektel.core.errors import MektelError
from mektel.core.kit import Control, Kit, measure_of, value_names
from mektel.core.kit.answers import ANSWER_KINDS, MOST_ANSWERS, Follow, Sound
from mektel.core.kit.moved_values import can_follow
from mektel.core.kit.sound_edits import add_sound, remove_sound, unused_sounds
from mektel.core.kit.timing_edits import set_answers
from mektel.core.sounds import SOUNDS
from mektel.formats.sound import read_sound

TITLES = {
    "ripple": ("Ripple", "A disc grows from where it is touched and fades when let go"),
    "press": ("Press", "All of it becomes smaller and sinks while pressed, and springs back"),
    "lift": ("Lift", "It rises while pressed: its shadows grow"),
    "twist": ("Twist", "A knock turns it, and it springs back"),
    "shake": ("Shake", "A knock pushes it sideways, and it springs back"),
    "lean": ("Lean", "It turns or tilts to the side that the pointer is on"),
    "follow": ("Follow", "A place or a direction of a layer goes with the pointer"),
    "flash": ("Flash", "Its face lights up at once, and the light fades"),
    "sound": ("Sound", "A short sound is played"),
    "iris": ("Iris", "When its work is done a disc grows from it over the screen"),
}
CAUSES = [("enter", "pointer enters"), ("press", "press"), ("release", "release"),
          ("check", "switched"), ("refuse", "refused press"), ("done", "work done")]
# Dials of times in seconds, shown in ms; and of what is in a timing.
SECONDS = ("seconds", "fade")
TIMED = {"settles": "seconds", "springs": "bounce"}
# By kind: value, title, and how it is edited.
DIALS: dict[str, tuple[tuple[str, str, str], ...]] = {
    "ripple": (("colour", "Colour", "colour"), ("origin", "From", "origin"),
               ("within", "Reach", "within"), ("seconds", "Grows in", "ms"),
               ("fade", "Fades in", "ms")),
    "press": (("scale", "Scale", "number"), ("sink", "Sinks", "number"),
              ("springs", "Bounce", "timing"), ("settles", "Settles in", "timing")),
    "lift": (("height", "Rises", "number"), ("springs", "Bounce", "timing"),
             ("settles", "Settles in", "timing")),
    "twist": (("cause", "When", "cause"), ("degrees", "Turns by", "number"),
              ("seconds", "Settles in", "ms"), ("bounce", "Bounce", "number")),
    "shake": (("cause", "When", "cause"), ("distance", "Moves by", "number"),
              ("seconds", "Settles in", "ms"), ("bounce", "Bounce", "number")),
    "lean": (("by", "It", "by"), ("degrees", "By", "number"),
             ("settles", "Catches up in", "timing")),
    "follow": (("place", "What", "place"), ("share", "Goes along", "number"),
               ("settles", "Catches up in", "timing")),
    "flash": (("cause", "When", "cause"), ("colour", "Colour", "colour"),
              ("seconds", "Fades in", "ms")),
    "sound": (("cause", "When", "cause"), ("sound", "Sound", "sound"),
              ("gain", "Gain", "number")),
    "iris": (("colour", "Colour", "colour"), ("seconds", "Grows in", "ms"),
             ("next", "Next screen at", "number")),
}
ORIGINS = [("touch", "where touched"), ("centre", "the centre")]
WAYS = [("tilt", "tilts"), ("turn", "turns")]
# The choice of a sound that is not in the kit yet.
FROM_FILE = ""
REMOVE = "-"  # before the id of a sound; none begins so


class Answers(Entries):
    """``heard`` is sent with a sound that was chosen, and its gain."""

    heard = Signal(str, float)
    what = "answer"
    none = "None yet. A press changes its state and nothing more."

    def entries(self, control: Control) -> tuple[Any, ...]:
        return control.answers

    def kept(self, kit: Kit, entries: tuple[Any, ...]) -> Kit:
        return set_answers(kit, self.bench.control_id, entries)

    def title(self, control: Control, entry: Any) -> str:
        return TITLES[entry.kind][0]

    def fill(self, menu: QMenu) -> None:
        menu.clear()
        control = self.bench.control
        for kind, (title, said) in TITLES.items():
            if kind == "follow" and (control is None or not followable(control)):
                continue
            if kind == "iris" and (control is None or control.behaviour != "busy"):
                continue
            tip(add_action(menu, title, self._add, kind), said)
        menu.setToolTipsVisible(True)

    def _add(self, kind: str) -> None:
        control = self.bench.control
        if control is None:
            return
        if kind == "follow":
            (part, value), _ = followable(control)[0]
            answer: Any = Follow(part=part, value=value)
        else:
            answer = ANSWER_KINDS[kind]()
        self.add(TITLES[kind][0], answer, MOST_ANSWERS)

    def dials_of(self, control: Control, entry: Any) -> dict[str, Dial]:
        return {name: self._dial(control, entry, name, title, how)
                for name, title, how in DIALS[entry.kind]}

    def _dial(self, control: Control, entry: Any, name: str, title: str, how: str) -> Dial:
        if how == "colour":
            return ColourDial(title, self)
        if how == "ms":
            return NumberDial(title, MILLISECONDS, self)
        if how == "timing":
            measure = (MILLISECONDS if name == "settles"
                       else measure_of(type(entry.timing), "bounce"))
            return NumberDial(title, measure, self)
        if how == "within":
            return YesNoDial(title, "inside", "beyond", self)
        choices: dict[str, list[tuple[Any, str]]] = {
            "origin": list(ORIGINS), "cause": list(CAUSES), "by": list(WAYS),
            "sound": [*((sound, sound.replace("-", " ")) for sound in SOUNDS),
                      *((sound.id, sound.name) for sound in self.bench.kit.sounds),
                      (FROM_FILE, "From a file…"),
                      *((f"{REMOVE}{sound.id}", f"Remove “{sound.name}” from the kit")
                        for sound in unused_sounds(self.bench.kit))],
            "place": list(followable(control))}
        if how in choices:
            return ChoiceDial(title, choices[how], self)
        return NumberDial(title, measure_of(type(entry), name), self)

    def value(self, entry: Any, name: str) -> Any:
        if name == "place":
            return entry.part, entry.value
        if name in TIMED:
            value = getattr(entry.timing, TIMED[name])
            return value * 1000 if name == "settles" else value
        value = getattr(entry, name)
        return value * 1000 if name in SECONDS else value

    def built_for(self, entry: Any) -> Any:
        kit = self.bench.kit
        return entry.kind, (kit.sounds, unused_sounds(kit)) if entry.kind == "sound" else ()

    def set_value(self, name: str, value: Any, drag: bool) -> None:
        if name == "sound" and value == FROM_FILE:
            ask_open(self, "A sound for this answer", SOUND_FILES, self.bench.folder(),
                     self.take_sound)
            return
        if name == "sound" and value.startswith(REMOVE):
            sound = self.bench.kit.sound(value.removeprefix(REMOVE))
            self.bench.edit(f"remove sound {sound.name}", lambda kit: remove_sound(kit, sound.id))
            return
        super().set_value(name, value, drag)
        if name == "sound":
            self._hear()

    def _hear(self) -> None:
        control = self.bench.control
        answer = control.answers[self.at] if control is not None else None
        if isinstance(answer, Sound):
            self.heard.emit(answer.sound, answer.gain)

    def take_sound(self, path: Path) -> None:
        """Takes a sound file into the kit, for the chosen answer."""
        try:
            content = read_sound(path)
        except MektelError as error:
            self.bench.noticed.emit(Notice(str(error), bad=True))
            return
        at, control_id = self.at, self.bench.control_id

        def make(kit: Kit) -> Kit:
            kit, sound = add_sound(kit, path.stem, content)
            answers = list(kit.control(control_id).answers)
            answers[at] = answers[at].model_copy(update={"sound": sound})
            return set_answers(kit, control_id, tuple(answers))

        if self.bench.edit(f"sound {path.stem}", make):
            self._hear()

    def changed(self, entry: Any, name: str, value: Any) -> Any:
        if name == "place":
            return entry.model_copy(update={"part": value[0], "value": value[1]})
        if name in TIMED:
            value = round(value / 1000, 3) if name == "settles" else value
            return entry.model_copy(update={
                "timing": entry.timing.model_copy(update={TIMED[name]: value})})
        return entry.model_copy(
            update={name: round(value / 1000, 3) if name in SECONDS else value})


def followable(control: Control) -> list[tuple[tuple[str, str], str]]:
    """Every place and direction of a layer that can go with the pointer, and its title."""
    places = []
    for layer in control.layers:
        for name in value_names(layer):
            shown = name != "centre" or getattr(layer, "style", "") in ("radial", "conic")
            if shown and can_follow(layer, name) and name not in ("rotate",):
                places.append(((layer.id, name), f"{layer.name}, {value_title(name).lower()}"))
    return places
