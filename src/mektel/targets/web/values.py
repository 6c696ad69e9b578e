"""Values as CSS writes them."""

from __future__ import annotations

from mektel.core.kit import Kit

Declarations = dict[str, str]


def hex_colour(kit: Kit, colour: str) -> str:
    return kit.colour(colour).lower()


def number(value: float) -> str:
    return f"{round(value, 4):g}" if abs(value) < 1e5 else str(round(value))


def px(value: float) -> str:
    return f"{number(value)}px" if value else "0px"


def percent(share: float) -> str:
    return f"{number(share * 100)}%"


def span(share: float, more: float) -> str:
    """A length that follows the control's size: ``calc(50% + 4px)``."""
    if not share:
        return px(more)
    if abs(more) < 1e-9:
        return percent(share)
    return f"calc({percent(share)} {'+' if more > 0 else '-'} {px(abs(more))})"
