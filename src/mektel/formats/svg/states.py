"""Groups of a drawing that are named after states."""

from __future__ import annotations

from mektel.core.kit.state_words import condition_in
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.pieces import SHAPES

DRAWN = {*SHAPES, "g", "a", "text", "image", "svg"}


def state_groups(drawing: Drawing) -> dict[str, Node]:
    """By condition the groups that show it, all beside each other; empty where there are none."""
    for node in drawing.root.walk():
        if node.tag not in ("svg", "g", "a"):
            continue
        groups: dict[str, Node] = {}
        for child in node.children:
            name = child.get("label") or child.get("data-name") or child.get("id")
            condition = condition_in(name) if child.tag in ("g", "a", "svg") and name else None
            if condition is not None and any(each.tag in DRAWN for each in child.children):
                groups.setdefault(condition, child)
        if len(groups) > 1:
            for child in node.children:
                if child.tag in DRAWN and child not in groups.values():
                    drawing.leave(child, "it stands beside the groups of states")
            return groups
    return {}
