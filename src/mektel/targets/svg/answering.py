"""One drawing for all states of a control: which of its layers show is said by CSS alone."""

from __future__ import annotations

from mektel.formats.svg.writing import Writer, path_data, svg_document
from mektel.targets.sheet import Flags, Sheet

# How the drawing knows each state: those of pointer and keyboard by itself.
MATCHES = {
    "hover": ":hover", "pressed": ":active", "focus": ":focus-visible",
    "disabled": '[aria-disabled="true"]', "checked": '[aria-checked="true"]',
    "busy": '[aria-busy="true"]'}
# While one of these holds, the others do not count.
HIDES = {"disabled": {"hover", "pressed", "focus", "busy"}, "busy": {"pressed"}}
ROLES = {"two-position": "switch", "group": "radio"}


def answering_drawing(sheet: Sheet) -> str:
    """The markup of a control's drawing; its root is what answers."""
    root = f"{sheet.id}-svg"
    writer = Writer(sheet.look(frozenset()), f"{sheet.id}-")
    elements: dict[tuple[str, str], set[Flags]] = {}
    for flags in sheet.distinct:
        writer.look = sheet.look(flags)
        for layer in writer.look.layers:
            markup = writer.layer(layer)
            if markup:
                elements.setdefault((layer.id, markup), set()).add(flags)
    order = [part.name for part in sheet.layers if not part.host]
    kept = sorted(elements, key=lambda element: order.index(element[0]))
    varying = [element for element in kept if len(elements[element]) < len(sheet.distinct)]
    names = {element: f"{sheet.id}-s{at}" for at, element in enumerate(varying, 1)}
    body = "".join(
        f'<g class="{names[element]}">{element[1]}</g>' if element in names else element[1]
        for element in kept)
    hit = f'<path class="{sheet.id}-hit" d="{path_data(sheet.shape(frozenset()))}" fill="none"/>'
    rules = [f".{root}{{pointer-events:none;outline:none}}",
             f".{sheet.id}-hit{{pointer-events:all;cursor:pointer}}",
             f'.{root}[aria-disabled="true"] .{sheet.id}-hit{{cursor:default}}',
             f".{sheet.id}-all{{isolation:isolate}}"]
    if names:
        rules.append(f"{','.join(f'.{name}' for name in names.values())}{{display:none}}")
    for flags in sheet.sets:
        first = sheet.same[flags]
        shown = [f".{name}" for element, name in names.items() if first in elements[element]]
        where = f".{root}{condition(sheet, flags)}"
        if shown:
            rules.append(f"{where} :is({','.join(shown)}){{display:inline}}")
        opacity = sheet.look(first).opacity
        if opacity < 1:
            rules.append(f"{where} .{sheet.id}-all{{opacity:{opacity:.4g}}}")
    style = f"<style>{''.join(rules)}</style>"
    held = {"aria-checked": "false"} if sheet.behaviour in ROLES else {}
    return svg_document(
        f'{style}<g class="{sheet.id}-all">{body}</g>{hit}', writer.defs, canvas(sheet), sheet.name,
        {"class": root, "role": ROLES.get(sheet.behaviour, "button"), "tabindex": "0",
         "aria-label": sheet.text or sheet.name, **held})


def canvas(sheet: Sheet) -> tuple[float, float, float, float]:
    """What a control's drawings show: x, y, width and height in px, from its box's top left."""
    margins, (width, height) = sheet.margins, sheet.size
    return (-margins.left, -margins.top, width + margins.left + margins.right,
            height + margins.top + margins.bottom)


def condition(sheet: Sheet, flags: Flags) -> str:
    """What of a selector holds in exactly these states: no two of a control's sets meet."""
    ignored = {state for holding in flags for state in HIDES.get(holding, ())}
    if flags >= {"pressed"} and flags ^ {"hover"} not in sheet.sets:
        ignored.add("hover")  # what is pressed is hovered as well
    text = ""
    for state in sheet.states:
        if state in flags:
            text += MATCHES[state]
        elif state not in ignored:
            text += f":not({MATCHES[state]})"
    return text


