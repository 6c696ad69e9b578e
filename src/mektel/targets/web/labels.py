"""Labels in CSS: text the browser sets, and what lies under its letters."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from mektel.core.kit import Label
from mektel.core.look.label_lines import RAISED, broken, label_size, shown_text, whole_baseline
from mektel.core.look.label_lines import own_text as label_text
from mektel.core.text import shape_line
from mektel.targets.sheet import Part, PartState, Sheet
from mektel.targets.web.css_values import Declarations, number, px, span
from mektel.targets.web.fidelity import has_shadow, loses_gradient
from mektel.targets.web.fonts import as_set, font_alias, line_box, line_height, odd_px, room
from mektel.targets.web.literals import css_string

if TYPE_CHECKING:
    from mektel.targets.web.instrument import WebInstrument

MARGINS = {"start": "0 auto", "centre": "auto", "end": "auto 0"}
SIDE = {"start": "start", "centre": "center", "end": "end"}
# Values of a label that change how much room its text takes.
TAKES_ROOM = ("size", "weight", "family", "case", "spacing", "flow", "line_height")
SHARE = {"start": 0.0, "centre": 0.5, "end": 1.0}


def declarations(web: WebInstrument, state: PartState) -> Declarations:
    """A label in the control's padded box, or about a spot of a box of its own."""
    part, sheet = state.values, state.sheet
    exact = _off_middle(as_set(part, sheet), sheet)
    paint, declared = _paint(web, state)
    wrapped, bound = part.flow == "wrap", part.flow != "one-line"
    size = part.size
    if part.text is not None and part.flow == "fit":
        size = as_set(part, sheet).size
    font_size = web.length(state, "size", size)
    declared |= {
        "position": "relative", "align-self": "center",
        **({"margin-inline": MARGINS[part.align]} if stands_alone(sheet) else {
            "grid-area": "1 / 1", "justify-self": "stretch" if bound else SIDE[part.align]}),
        "padding": " ".join(_padding(web, state)),
        # Moved by its margins, not by what is only painted elsewhere: what stands beside it on a
        # line of text is lined up with its letters.
        "margin-block": f"{px(exact)} {px(-exact)}",
        "translate": f"{px(part.move[0])} {px(part.move[1])}",
        **paint,
        "font": f'{part.weight} {font_size} "{font_alias(as_set(part, sheet), sheet)}", sans-serif',
        "line-height": _line_height(part, sheet),
        "letter-spacing": web.length(state, "spacing", part.spacing) if (
            part.spacing or "spacing" in state.drivers) else "normal",
        "text-rendering": "geometricPrecision",
        "white-space": "normal" if wrapped else "pre", "user-select": "none",
        **({"--size": px(size) if part.flow == "fit" else "none"}
           if "fit" in (part.flow, state.part.rest.values.flow) else {}),
    }
    if not bound:
        declared["unicode-bidi"] = "plaintext"  # it runs as its first letter with a direction
    if _is_one_line(state.part) and part.box is None:
        # What has no room ends in dots.
        declared |= {"min-width": "0", "max-width": "100%", "overflow-x": "clip",
                     "text-overflow": "ellipsis"}
    if bound:
        # Laid into the control's width, which it does not widen.
        declared |= {"width": "0", "min-width": "100%", "text-align": SIDE[part.align]}
    if part.box is not None:
        declared |= _in_own_box(web, state, exact)
    if part.case == "capitals":
        declared["text-transform"] = "uppercase"
    return declared | _beneath(part)


def stands_alone(sheet: Sheet) -> bool:
    """Whether there is at most one text to be laid out, on one line: a flexible box will do, which
    browsers lay out in half the time of a grid.
    """
    texts = [part for part in sheet.layers if part.kind == "label" and any(
        state.values.box is None for state in part.distinct)]
    return len(texts) < 2 and all(
        _is_one_line(part) and all(state.values.box is None for state in part.distinct)
        for part in texts)


def _is_one_line(part: Part) -> bool:
    """Whether every state sets the same text on a line of the same size."""
    return not any(state.values.flow != "one-line" or state.values.text != part.rest.values.text
                   or sets_otherwise(state) for state in part.distinct)


def _line_height(part: Label, sheet: Sheet) -> str:
    """What keeps to the size of the letters is a share of it; so is what may be set in another."""
    if part.flow == "wrap":
        return px(round(part.line_height * part.size))
    if part.style != "solid" or part.flow == "fit":
        return "normal"
    # A hair more than whole px: browsers round half of what is left down.
    return number(math.ceil(line_height(part, sheet) / part.size * 1e4) / 1e4)


def _padding(web: WebInstrument, state: PartState) -> list[str]:
    """Above and below, then at the sides; with room for what stands beside the text, so that the
    element is wide enough for both.
    """
    sheet, part = state.sheet, state.values
    outline = sheet.outline.states[state.flags]
    across, down = web.pair(outline, "padding", outline.values.padding)
    # Letters of a state's own lie over the text at rest, which keeps its room.
    odd = odd_px(as_set(state.part.rest.values if sets_otherwise(state) else part, sheet), sheet)
    below = f"calc({down} + {px(odd)})" if odd else down
    if part.text is not None or not sheet.beside or sheet.content is None or (
            state.part.name in sheet.following):
        return [down, across, below] if odd else [down, across]
    left = {"start": 0.0, "centre": sheet.beside / 2, "end": sheet.beside}[sheet.content.place]
    more = (sheet.beside - left, left)
    if across.startswith("var("):
        sides = [f"calc({across} + {px(length)})" if length else across for length in more]
    else:
        sides = [px(outline.values.padding[0] + length) for length in more]
    return [down, sides[0], below, sides[1]]


def own_text(web: WebInstrument, state: PartState, selector: str) -> dict[str, Declarations]:
    """Letters of a state's own: another text, or the same set so that it takes other room.

    They lie over the text at rest, which keeps its room: states never change the element's size.
    """
    part, sheet, rest = state.values, state.sheet, state.part.rest.values
    another = part.text != rest.text
    if not another and not sets_otherwise(state):
        return {}
    follows = part.text is None and not state.part.host
    text = "attr(data-text)" if follows else css_string(label_text(part, sheet.text))
    letters: Declarations = {"content": text}
    if part.box is not None:
        # Absolute, so that its size is nobody else's.
        return {f"{selector} > *": {"display": "none"}, f"{selector}::after": letters}
    if part.style != "solid" and not loses_gradient(part):
        letters["background"] = "inherit"  # they, too, are cut out of the gradient
    across = px(sheet.outline.rest.values.padding[0])
    lies = {"left": across, "right": across} if part.flow != "one-line" else {
        "start": {"left": across}, "end": {"right": across}, "centre": {"left": "50%"}}[part.align]
    back = "-50%" if lies == {"left": "50%"} else "0px"
    letters |= {"position": "absolute", "top": "50%", **lies, "translate": f"{back} -50%"}
    if odd := odd_px(as_set(part, sheet), sheet):
        letters["padding-bottom"] = px(odd)
    if part.flow == "fit":
        wide = label_size(as_set(part, sheet), label_text(part, sheet.text))[0]
        letters["text-indent"] = px(min(0.0, (room(part, sheet) - wide) / 2))
    kept: Declarations = {"visibility": "hidden"}
    if not another:
        declared = declarations(web, state.part.rest)
        kept |= {name: declared.get(name, "none") for name in (
            "font", "line-height", "letter-spacing", "white-space", "text-transform")}
        if rest.flow == "fit" and part.flow != "fit":
            kept |= {"display": "block", "position": "absolute"}
    return {f"{selector} > *": kept, f"{selector}::after": letters}


def sets_otherwise(state: PartState) -> bool:
    """Whether a state sets the text of rest in letters or lines that take other room."""
    part, rest = state.values, state.part.rest.values
    if part.box is not None or rest.box is not None or part.text != rest.text:
        return False
    if part.flow == rest.flow == "fit":
        return False  # set within the room there is
    return any(getattr(part, name) != getattr(rest, name) for name in TAKES_ROOM)


def _off_middle(part: Label, sheet: Sheet) -> float:
    """How far a line lies off where the browser's whole metrics put it, in px, at the designed
    size.
    """
    line = shape_line("", part.family, part.weight, part.size)
    above, below = line_box(part, sheet)
    below += odd_px(part, sheet)
    top, height = 0.0, sheet.size[1]
    if part.box is not None:
        top = part.box.y[0] * height + part.box.y[1]
        height = part.box.height[0] * height + part.box.height[1]
    if part.flow == "wrap":
        top += (height - _wrapped_height(part, sheet)) / 2
        height = round(part.line_height * part.size)
    middle = top + height / 2
    return whole_baseline(middle + (line.ascent - line.descent) / 2) - (
        middle + (above - below) / 2)


def _in_own_box(web: WebInstrument, state: PartState, exact: float) -> Declarations:
    """A box of its own: where it is set, and how far the text's own box lies back from there."""
    part = state.values
    area = part.box
    share = _share(state)
    back = {0.0: "0px", 0.5: "-50%", 1.0: "-100%"}[share]
    bound = part.flow != "one-line"
    if bound:
        share, back = 0.0, "0px"
    left = span(area.x[0] + share * area.width[0], area.x[1] + share * area.width[1])
    top = span(area.y[0] + area.height[0] / 2, area.y[1] + area.height[1] / 2)
    across = px(part.move[0]) if back == "0px" else f"calc({back} + {px(part.move[0])})"
    declarations = {"position": "absolute", "grid-area": "auto", "align-self": "auto",
             "justify-self": "auto", "inset": "auto", "left": left, "top": top, "padding": "0",
             "margin-block": "0",
             "translate": f"{across} calc(-50% + {px(part.move[1] + exact)})"}
    if bound:
        declarations |= {"width": span(*area.width), "min-width": "0"}
    return declarations


def _share(state: PartState) -> float:
    """Where in its room a text stands; one too long for it is centred on it."""
    part, sheet = state.values, state.sheet
    if label_size(part, label_text(part, sheet.text))[0] > room(part, sheet):
        return 0.5
    return SHARE[part.align]


def pivot(web: WebInstrument, state: PartState) -> str:
    """The pivot of a turned label, counted from the browser's box of its text."""
    part, sheet = state.values, state.sheet
    (x, y), (width, height) = part.pivot, sheet.size
    if part.box is not None:
        left, top = _corner(state)
        return f"{px(x * width - left)} {px(y * height - top)}"
    off = px((y - 0.5) * height - _off_middle(as_set(part, sheet), sheet))
    along = {"start": px(x * width), "end": f"calc(100% - {px((1 - x) * width)})"}.get(
        part.align if part.flow == "one-line" else "", f"calc(50% + {px((x - 0.5) * width)})")
    return f"{along} calc(50% + {off})"


def _corner(state: PartState) -> tuple[float, float]:
    """The top left of the browser's box of a text in a box of its own, in px."""
    part, sheet = as_set(state.values, state.sheet), state.sheet
    area, (width, height) = state.values.box, sheet.size
    across, _ = label_size(part, label_text(part, sheet.text))
    spare = room(part, sheet) - across
    high: float = sum(line_box(part, sheet)) + odd_px(part, sheet)
    if part.flow == "wrap":
        high = _wrapped_height(part, sheet)
    if part.flow != "one-line":
        spare = 0.0  # it takes all of its room
    left = area.x[0] * width + area.x[1] + spare * _share(state)
    middle = area.y[0] * height + area.y[1] + (area.height[0] * height + area.height[1]) / 2
    return left, middle - high / 2 + _off_middle(part, sheet)


def _wrapped_height(part: Label, sheet: Sheet) -> float:
    """The height in px of all lines of a text that is broken, at the designed size."""
    text = shown_text(part, label_text(part, sheet.text))
    return round(part.line_height * part.size) * len(broken(part, text, room(part, sheet)))


def _beneath(part: Any) -> Declarations:
    """What lies under the letters.

    A line round them is made of shadows all round, which gives it round corners. Under a line or
    a gradient, light, shade and shadow are filters: text shadows would show through.
    """
    edge = part.edge_colour.lower()
    around = []
    if part.edge > 0:
        count = max(16, 4 * math.ceil(part.edge * 3))
        # Each copy's soft edge adds to the next one's: together they reach this much further.
        reach = max(part.edge / 2, part.edge - 0.25)
        around = [
            f"{px(reach * math.cos(turn))} {px(reach * math.sin(turn))} {edge}"
            for turn in (2 * math.pi * at / count for at in range(count))
        ]
    copies = []
    if part.relief != "flat":
        way = 1 if part.relief == "raised" else -1
        for dx, dy, (r, g, b, a) in reversed(RAISED):
            tone = f"rgb({round(r * 255)} {round(g * 255)} {round(b * 255)} / {number(a)})"
            copies.append((dx, dy * way, 0.0, tone))
    if has_shadow(part):
        copies.append((*part.shadow_offset, part.shadow_blur, part.shadow_colour.lower()))
    if part.style == "solid" and not around:
        texts = [f"{px(x)} {px(y)} {px(blur)} {tone}" for x, y, blur, tone in copies]
        return {"text-shadow": ", ".join(texts)} if texts else {}
    declared = {"text-shadow": ", ".join(around)} if around else {}
    if copies:
        declared["filter"] = " ".join(
            f"drop-shadow({px(x)} {px(y)} {px(blur / 2)} {tone})" for x, y, blur, tone in copies)
    return declared


def _paint(web: WebInstrument, state: PartState) -> tuple[Declarations, Declarations]:
    part = state.values
    if part.style == "solid":
        return {"color": "var(--colour)"}, {"--colour": web.colour(state, "colour")}
    if loses_gradient(part):
        middle = part.stops[len(part.stops) // 2].colour.lower()
        return {"color": "var(--colour)"}, {"--colour": middle}
    line = shape_line(label_text(part, state.sheet.text), part.family, part.weight, part.size)
    paint, declared = web.paint(state, line.advance, line.height)
    return {"color": "transparent", "background": f"{paint} content-box text"}, declared
