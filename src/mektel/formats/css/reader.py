"""Reads the declarations of one element in one state; what cannot be read is listed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import tinycss2

from mektel.formats.css.calc import is_sum, worked_out
from mektel.formats.css.cascade import KEYWORDS, SIDES, Values
from mektel.formats.css.described import Described
from mektel.formats.css.gradients import position
from mektel.formats.css.lengths import Scale, angle, four, length, radii
from mektel.formats.css.tokens import CssError, Declared, components, split_by

CORNERS = ("border-top-left-radius", "border-top-right-radius", "border-bottom-right-radius",
           "border-bottom-left-radius")
LARGEST = 2000.0


class Reader:
    """Declarations by name, in the order of precedence; ``padding`` is what holds without any."""

    def __init__(
        self, sheet: Described, declared: Values, padding: tuple[float, ...] = (0.0,) * 4
    ) -> None:
        self.sheet, self.declared, self._padding = sheet, declared, padding

    def take(
        self, name: str, read: Callable[[Declared], Any], otherwise: Any, initial: bool = False
    ) -> Any:
        """What ``read`` makes of a value; ``initial`` if it also reads that keyword."""
        declared = self.declared.get(name)
        if declared is None or (declared.text in KEYWORDS and not initial):
            return otherwise
        try:
            return read(declared)
        except CssError as error:
            self.sheet.leave(declared.line, f"{name}: {error}")
        except Exception:
            # Whatever a token is, it is not a value that this property takes.
            self.sheet.leave(declared.line, f"{name}: {declared.text[:60]}")
        return otherwise

    def has(self, *names: str) -> bool:
        return any(name in self.declared for name in names)

    def line_of(self, *names: str) -> int:
        return next((self.declared[name].line for name in names if name in self.declared), 1)

    def share(self, name: str) -> float:
        """A number or percentage from 0 to 1; 1 where it is not given."""

        def read(declared: Declared) -> float:
            token = components(declared.tokens)[0]
            if is_sum(token):
                value, has_unit = worked_out(token, lambda part: float(part.value) / 100)
                if has_unit and "%" not in declared.text:
                    raise CssError(declared.text[:60])
            else:
                value = token.value / 100 if token.type == "percentage" else token.value
            return min(1.0, max(0.0, float(value)))

        return float(self.take(name, read, 1.0))

    def padding(self, scale: Scale) -> list[float]:
        """From the top clockwise, in px; percentages are of a width that is not known here."""
        padding = self.take("padding", lambda d: [
            length(token, scale) for token in four(components(d.tokens))
        ], list(self._padding))
        for at, side in enumerate(SIDES):
            padding[at] = self.take(
                f"padding-{side}", lambda d: length(components(d.tokens)[0], scale), padding[at])
        return [min(400.0, max(0.0, value)) for value in padding]

    def corners(self, scale: Scale, size: tuple[float, float]) -> dict[str, Any]:
        """The radii of a box of ``size`` px, as an outline has them."""
        across, down = self.take(
            "border-radius", lambda d: radii(d, scale, size), ((0.0,) * 4, (0.0,) * 4))
        across, down = list(across), list(down)
        for at, name in enumerate(CORNERS):
            pair = self.take(name, lambda d: [
                length(token, scale, size[n])
                for n, token in enumerate((components(d.tokens)[0], components(d.tokens)[-1]))],
                None)
            if pair is not None:
                across[at], down[at] = pair
        rx = tuple(min(LARGEST, max(0.0, value)) for value in across)
        ry = tuple(min(LARGEST, max(0.0, value)) for value in down)
        return {"corners": rx, "vertical_radii": None if rx == ry else ry}

    def transform(
        self, scale: Scale, size: tuple[float, float]
    ) -> tuple[tuple[float, float], float, tuple[float, float]]:
        """How a box of ``size`` px is moved (px), turned (degrees) and scaled."""
        move, turn, factors = [0.0, 0.0], [0.0], [1.0, 1.0]

        def read(declared: Declared) -> None:
            for token in components(declared.tokens):
                if token.type == "ident" and token.lower_value == "none":
                    continue
                if token.type != "function":
                    raise CssError(tinycss2.serialize([token]))
                given = map(components, split_by(token.arguments, ","))
                _apply(token, [tokens[0] for tokens in given if tokens])

        def _apply(token: Any, values: list[Any]) -> None:
            name = token.lower_name
            if name in ("translate", "translatex", "translatey", "translate3d"):
                if name == "translatey":
                    move[1] += length(values[0], scale, size[1])
                else:
                    move[0] += length(values[0], scale, size[0])
                    if len(values) > 1:
                        move[1] += length(values[1], scale, size[1])
            elif name in ("rotate", "rotatez"):
                turn[0] += angle(values[0])
            elif name in ("scale", "scalex", "scaley", "scale3d"):
                both = [float(value.value) for value in (values * 2)[:2]]
                factors[0] *= both[0] if name != "scaley" else 1.0
                factors[1] *= both[1] if name != "scalex" else 1.0
            elif name != "translatez":
                raise CssError(f"{name}()")

        self.take("transform", read, None)
        self.take("translate", lambda d: _apply(
            _Named("translate"), components(d.tokens)), None)
        self.take("rotate", lambda d: _apply(_Named("rotate"), components(d.tokens)), None)
        self.take("scale", lambda d: _apply(_Named("scale"), components(d.tokens)), None)
        return (move[0], move[1]), turn[0], (factors[0], factors[1])

    def pivot(self, scale: Scale, size: tuple[float, float]) -> tuple[float, float]:
        """The middle of turns, as shares of a box of ``size`` px."""
        pivot: tuple[float, float] = self.take("transform-origin", lambda d: position(
            components(d.tokens)[:2], size, scale), (0.5, 0.5))
        return pivot


class _Named:
    """A property of its own that does what a function of ``transform`` does."""

    def __init__(self, name: str) -> None:
        self.lower_name = name
