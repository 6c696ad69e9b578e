"""Custom properties that an element works out: their names, and the source of their values."""

from __future__ import annotations

from dataclasses import dataclass

from mektel.core.kit import REST
from mektel.core.kit.control import is_colour
from mektel.targets.drivers import Driver
from mektel.targets.sheet import Sheet
from mektel.targets.web.expressions import js_of


@dataclass(frozen=True)
class Property:
    """A custom property that the element sets: the source of its value, and of which part.

    ``parameter`` is the one that it simply is, or empty: then it can be set in a style sheet, too.
    ``kind`` is ``css``, or what else is set: a ``text``, or the ``file`` of a picture.
    """

    name: str
    source: str
    part: str
    parameter: str = ""
    kind: str = "css"


class Properties(dict[str, Property]):
    """The properties of one control by name; each is made when it is first asked for."""

    def __init__(self, sheet: Sheet) -> None:
        super().__init__()
        self._palette = sheet.palette

    def named(self, driver: Driver, unit: str = "", kind: str = "css") -> str:
        """The name of the property that holds what a driver gives, in a CSS unit."""
        source = js_of(driver.tree)
        if kind == "file":
            source = f'`url("${{encodeURI({source})}}")`'
        elif unit == "visibility":
            source = f'{source} ? "visible" : "hidden"'
        elif unit == "stops":
            source = f"stops_of({source})"
        elif unit:
            source = f"`${{finite({source})}}{unit}`"
        elif kind == "css":
            source = f"finite({source})"
        colour = driver.parameter if is_colour(driver.path.split(".")[-1]) else ""
        state = "" if driver.condition == REST else driver.condition.replace("+", "-")
        own = "-".join(filter(None, [state, driver.part, driver.path.replace(".", "-")]))
        name = f"--{(colour or own).replace('_', '-')}"
        parameter = driver.parameter if colour or kind == "file" else ""
        self[name] = Property(
            name, source, driver.part, "" if parameter in self._palette else parameter, kind)
        return name
