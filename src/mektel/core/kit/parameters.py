"""Parameters: what someone who uses a control may set, with types, limits and defaults."""

from __future__ import annotations

import keyword
import re
from typing import Annotated, Any, Literal, Self

from pydantic import AfterValidator, BeforeValidator, Field, model_validator

from mektel.core.errors import MektelError
from mektel.core.kit.forms import Brief
from mektel.core.kit.value_types import HEX, NAME, Frozen, Text, Title

PARAMETER_NAME = re.compile(r"[a-z][a-z0-9_]{0,39}")
# Names that a control in code has already, in one target's language or another's.
TAKEN = frozenset({
    "parent", "text", "label", "box", "states", "left", "entered", "pressed", "released",
    "clicked", "toggled", "checked", "disabled", "enabled", "busy", "width", "height", "size",
    "parent_width", "parent_height", "rest", "style", "title", "hidden", "id", "slot", "part",
    "class", "lang", "dir", "click", "focus", "blur", "remove", "children", "animate", "matches",
    "before", "after", "append", "closest", "hover", "function", "var", "let", "const", "new",
    "this", "delete", "default", "switch", "case", "true", "false", "null", "typeof", "void",
    "self", "update", "repaint", "show", "hide", "raise", "lower", "move", "resize", "font",
    "palette", "cursor", "mask", "rect", "pos", "x", "y", "icon", "shortcut", "group", "down",
    "body", "content", "kind", "name", "role", "inert", "translate", "draggable", "spellcheck",
})
ParameterType = Literal[
    "colour", "colours", "number", "length", "text", "icon", "picture", "choice", "yes-no", "font",
    "duration", "action",
]
NUMERIC = ("number", "length", "duration")
TYPE_TITLES = {
    "colour": "a colour such as #2F8C93", "colours": "a list of colours", "number": "a number",
    "length": "a length in px", "text": "a text", "icon": "the name of an icon",
    "picture": "the name of a picture", "choice": "one of its choices", "yes-no": "True or False",
    "font": "the name of a font", "duration": "a time in seconds", "action": "a callback",
}


class ArgumentError(MektelError):
    """An argument that a parameter does not take, or one that is missing."""


def _checked_parameter_name(name: str) -> str:
    if not PARAMETER_NAME.fullmatch(name):
        raise ValueError(f"“{name}” must be lower-case letters, digits and underscores")
    if name != "text" and (name in TAKEN or keyword.iskeyword(name)):
        raise ValueError(f"“{name}” is a word that controls in code have already; choose another")
    return name


def _plain(value: Any) -> Any:
    if isinstance(value, list):
        return tuple(_plain(entry) for entry in value)
    if isinstance(value, int) and not isinstance(value, bool):
        return float(value)
    return value


ParameterName = Annotated[str, AfterValidator(_checked_parameter_name)]
Argument = Annotated[float | bool | str | tuple[str, ...], BeforeValidator(_plain)]


class Parameter(Brief):
    """One thing that an instance may set. ``default`` also serves as the sample of a required one.

    ``min`` and ``max`` limit a number; ``choices`` are what a choice chooses from. ``help`` says
    what it does and ``example`` what may be given, to whoever uses the shipped control.
    """

    name: ParameterName
    type: ParameterType = "colour"
    default: Argument = ""
    required: bool = False
    min: float | None = None
    max: float | None = None
    choices: tuple[str, ...] = Field(default=(), max_length=32)
    help: Text = ""
    example: Text = ""

    @property
    def allowed(self) -> tuple[str, ...]:
        """The choices, with the default among them; empty where anything goes."""
        default = self.default
        if not self.choices or not isinstance(default, str) or default in self.choices:
            return self.choices
        return (*self.choices, default)

    @property
    def description(self) -> str:
        """Help and example, as shipped code has them; empty without either."""
        example = f"Example: {self.example}" if self.example else ""
        return ". ".join(filter(None, (self.help.rstrip("."), example))) if example else self.help

    @model_validator(mode="after")
    def _default_fits(self) -> Self:
        if self.type != "action":
            problem = argument_problem(self, self.default)
            if problem:
                raise ValueError(f"the default of {self.name}: {problem}")
        return self


class Variation(Frozen):
    """One instance to look at: a row of arguments with a name, and a text of its own."""

    name: Title
    arguments: dict[str, Argument] = Field(default_factory=dict)
    text: Text | None = None


def argument_problem(parameter: Parameter, value: Any) -> str:
    """Why a parameter does not take a value; empty if it does. Palette names are colours, too."""
    wanted = f"{TYPE_TITLES[parameter.type]} is needed, not {value!r}"
    kind = parameter.type
    if kind in NUMERIC:
        if isinstance(value, bool) or not isinstance(value, float | int):
            return wanted
        low, high = parameter.min, parameter.max
        if (low is not None and value < low) or (high is not None and value > high):
            return f"{value:g} is not within {_limits(low, high)}"
        return ""
    if kind == "yes-no":
        return "" if isinstance(value, bool) else wanted
    if kind == "colours":
        whole = isinstance(value, tuple | list) and value and all(map(_is_colour, value))
        return "" if whole else wanted
    if kind == "action":
        return ""
    if not isinstance(value, str):
        return wanted
    if kind == "colour" and not _is_colour(value):
        return wanted
    if kind == "choice" and value not in parameter.choices:
        return f"one of {', '.join(parameter.choices) or 'nothing'} is needed, not {value!r}"
    if parameter.allowed and value not in parameter.allowed:
        return f"one of {', '.join(parameter.allowed)} is needed, not {value!r}"
    return ""


def _is_colour(value: Any) -> bool:
    return isinstance(value, str) and bool(HEX.fullmatch(value) or NAME.fullmatch(value))


def _limits(low: float | None, high: float | None) -> str:
    if low is None:
        return f"at most {high:g}"
    return f"{low:g} to {high:g}" if high is not None else f"at least {low:g}"


def arguments_for(parameters: tuple[Parameter, ...], given: dict[str, Any]) -> dict[str, Any]:
    """Every parameter's value: what is given, checked, or else its default.

    Raises :class:`ArgumentError` naming the argument that is unknown or does not fit.
    """
    known = {parameter.name: parameter for parameter in parameters}
    for name, value in given.items():
        if name not in known:
            raise ArgumentError(
                f"There is no parameter “{name}”. Available: {', '.join(known) or 'none'}.")
        problem = argument_problem(known[name], value)
        if problem:
            raise ArgumentError(f"{name}: {problem}.")
    return {name: _plain(given.get(name, parameter.default)) for name, parameter in known.items()}
