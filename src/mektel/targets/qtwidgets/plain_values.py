"""Values of the document as Qt has them."""

from __future__ import annotations

from typing import Any

from mektel.core.look import RGBA


def present(values: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in values.items() if value is not None}


def qt_value(name: str, value: Any) -> Any:
    if name.endswith("colour"):
        return qt_colour(value)
    if isinstance(value, tuple):
        return numbers(value)
    return number(value) if isinstance(value, float) else value


def qt_colour(colour: str) -> str:
    """Qt writes alpha first: #AARRGGBB."""
    return f"#{colour[7:9]}{colour[1:7]}" if len(colour) == 9 else colour


def qt_rgba(colour: RGBA, fade: float = 1.0) -> str:
    digits = "".join(f"{round(min(1.0, c) * 255):02X}" for c in colour[:3])
    alpha = round(min(1.0, colour[3] * fade) * 255)
    return f"#{digits}" if alpha == 255 else f"#{alpha:02X}{digits}"


def number(value: float, digits: int = 4) -> float | int:
    """Without a fraction that is none."""
    rounded = round(float(value), digits)
    return int(rounded) if rounded.is_integer() else rounded


def numbers(values: tuple[float, ...]) -> tuple[float | int, ...]:
    return tuple(number(value) for value in values)
