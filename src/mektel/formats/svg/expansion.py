"""Nested drawings, symbols and what ``<use>`` repeats as plain groups (SVG 2, chapter 5)."""

from __future__ import annotations

import math

from svgelements import Matrix

from mektel.formats.svg.drawing import MOST_ELEMENTS, Drawing, DrawingError, Node
from mektel.formats.svg.shapes import to_number

# Attributes of a <use> that do not go over to the group that takes its place.
OF_USE = {"x", "y", "width", "height", "href"}
# A box that clips what is drawn in a group, in the group's own units: x, y, width, height.
VIEWPORT = "-viewport"
# What stands in <defs> and is drawn where something refers to it.
DRAWN_ELSEWHERE = {"clipPath", "marker", "mask", "pattern"}
Size = tuple[float, float]
# Lengths that may be percentages of the window's width, its height, or its diagonal (SVG 2, 8.9).
PLACED = {"rect", "circle", "ellipse", "line", "image", "use", "svg", "text", "tspan", "path"}
SHARES = {"x": "x", "width": "x", "cx": "x", "rx": "x", "x1": "x", "x2": "x", "y": "y",
          "height": "y", "cy": "y", "ry": "y", "y1": "y", "y2": "y", "r": "", "stroke-width": ""}


def expand(drawing: Drawing, source: str) -> None:
    """Changes ``drawing`` in place. Raises :class:`DrawingError` if it becomes too large."""
    root = drawing.root
    width, height = viewport_of(root)
    _as_viewport(root, width, height)
    count = len(root.walk())
    # With each node the ids of what it is a copy of, so that nothing repeats itself for ever.
    inner = _window_of(root)
    todo: list[tuple[Node, frozenset[str], Size]] = [
        (child, frozenset(), inner) for child in root.children]
    while todo:
        node, within, window = todo.pop()
        _without_percentages(node, window)
        if node.tag == "use":
            target = drawing.referred(node.get("href"))
            name = node.get("href").strip()
            if target is None or name in within or _holds(target, node):
                drawing.leave(node, "what it repeats is not in the drawing" if target is None
                              else "it repeats itself")
                node.tag = "defs"
                continue
            count += len(target.walk())
            if count > MOST_ELEMENTS:
                raise DrawingError(f"{source}: line {node.line}: with all that is repeated, more "
                                   f"than {MOST_ELEMENTS} elements, so it is not read.")
            _repeat(node, target)
            within |= {name}
        elif node.tag == "svg":
            x, y = number_in(node, "x"), number_in(node, "y")
            _add_transform(node, f"translate({x} {y})")
            _as_viewport(node, number_in(node, "width", window[0]),
                         number_in(node, "height", window[1]))
            window = _window_of(node)
            node.tag = "g"
        elif node.tag == "switch":
            del node.children[1:]
            node.tag = "g"
        todo += [(child, within, window) for child in node.children
                 if node.tag != "defs" or child.tag in DRAWN_ELSEWHERE]


def _window_of(node: Node) -> Size:
    """What percentages in a drawing are of, in its own units."""
    _, _, width, height = (float(part) for part in node.get(VIEWPORT).split())
    box = view_box(node)
    return (box[2], box[3]) if box else (width, height)


def _without_percentages(node: Node, window: Size) -> None:
    if node.tag not in PLACED:
        return
    for name, text in node.attributes.items():
        if name in SHARES and text.strip().endswith("%"):
            whole = {"x": window[0], "y": window[1]}.get(
                SHARES[name], math.hypot(*window) / math.sqrt(2))
            node.attributes[name] = str(to_number(text.strip()[:-1]) / 100 * whole)


def viewport_of(node: Node) -> tuple[float, float]:
    """The size of an ``<svg>`` or ``<symbol>`` in px; that of its view box where it says none."""
    box = view_box(node)
    return (number_in(node, "width", box[2] if box else 300.0),
            number_in(node, "height", box[3] if box else 150.0))


def view_box(node: Node) -> tuple[float, float, float, float] | None:
    try:
        x, y, width, height = (
            float(part) for part in node.get("viewBox").replace(",", " ").split())
    except ValueError:
        return None
    return (x, y, width, height) if width > 0 and height > 0 else None


def number_in(node: Node, name: str, default: float = 0.0) -> float:
    return to_number(node.get(name), default)


def _as_viewport(node: Node, width: float, height: float) -> None:
    """Puts the view box's scale and place into the node's transform."""
    box = view_box(node)
    if box is None:
        node.attributes[VIEWPORT] = f"0 0 {width} {height}"
        return
    made = fitted(node, width, height)
    across, down, left, top = (float(part) for part in (made.a, made.d, made.e, made.f))
    _add_transform(node, f"translate({left} {top}) scale({across} {down})")
    node.attributes[VIEWPORT] = " ".join(str(part) for part in (
        -left / across, -top / down, width / across, height / down))


def fitted(node: Node, width: float, height: float) -> Matrix:
    """How a node's view box, which it has, is laid into a window (SVG 2, 8.6)."""
    x, y, wide, high = view_box(node) or (0.0, 0.0, 1.0, 1.0)
    across, down = width / wide, height / high
    ratio = (node.get("preserveAspectRatio") or "xMidYMid").split()
    if ratio[0] != "none":
        across = down = max(across, down) if "slice" in ratio else min(across, down)
    shares = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    sx, sy = (shares.get(part, 0.5) for part in (ratio[0][1:4], ratio[0][5:8]))
    return Matrix(across, 0, 0, down, (width - wide * across) * sx - x * across,
                  (height - high * down) * sy - y * down)


def _add_transform(node: Node, text: str) -> None:
    node.attributes["transform"] = f"{node.get('transform')} {text}".strip()


def _holds(target: Node, node: Node) -> bool:
    walk: Node | None = node
    while walk is not None:
        if walk is target:
            return True
        walk = walk.parent
    return False


def _repeat(use: Node, target: Node) -> None:
    x, y = number_in(use, "x"), number_in(use, "y")
    copied = _copy(target, use)
    if target.tag in ("symbol", "svg"):
        for side in ("width", "height"):
            if use.get(side):
                copied.attributes[side] = use.get(side)
        copied.tag = "svg"
    use.tag = "g"
    use.attributes = {name: value for name, value in use.attributes.items() if name not in OF_USE}
    if x or y:
        _add_transform(use, f"translate({x} {y})")
    use.children = [copied]


def _copy(node: Node, parent: Node) -> Node:
    top = Node(node.tag, dict(node.attributes), node.line, parent)
    todo = [(node, top)]
    while todo:
        original, made = todo.pop()
        for child, text in original.inside:
            if child is None:
                made.inside.append((None, text))
                continue
            copied = Node(child.tag, dict(child.attributes), child.line, made)
            made.children.append(copied)
            made.inside.append((copied, ""))
            todo.append((child, copied))
    return top
