"""Values as CSS writes them."""

from __future__ import annotations

Declarations = dict[str, str]


def number(value: float) -> str:
    return f"{round(value, 4):g}" if abs(value) < 1e5 else str(round(value))


def px(value: float) -> str:
    return f"{number(value)}px" if value else "0px"


def percent(share: float) -> str:
    return f"{number(share * 100)}%"


def span(share: float, more: float, driven: str = "") -> str:
    """A length that follows the control's size: ``calc(50% + 4px)``.

    ``driven`` is a length that a property holds, to which ``more`` px are added.
    """
    if driven:
        terms = [percent(share)] if share else []
        text = " + ".join([*terms, driven])
        if abs(more) > 1e-6:
            text += f" {'+' if more > 0 else '-'} {px(abs(more))}"
        return f"calc({text})" if " " in text else text
    if not share:
        return px(more)
    if abs(more) < 1e-9:
        return percent(share)
    return f"calc({percent(share)} {'+' if more > 0 else '-'} {px(abs(more))})"
