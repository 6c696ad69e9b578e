"""Values of the command line that click lets through and nothing after it can use."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import click


class Number(click.FloatRange):
    """A number of a range; “nan” compares with nothing and is in every range of click's."""

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> float:
        number: float = super().convert(value, param, ctx)
        if math.isnan(number):
            self.fail(f"{value} is not a number.", param, ctx)
        return number


class NamedPath(click.Path):
    """A path that is not empty: an empty one would be the folder that one is in."""

    def __init__(self) -> None:
        super().__init__(path_type=Path)

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> Any:
        if not str(value):
            self.fail("it is empty; write a path, or . for the folder you are in.", param, ctx)
        return super().convert(value, param, ctx)
