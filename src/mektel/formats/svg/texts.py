"""Texts of a drawing as labels: each run of letters in its own place, colour and weight."""

from __future__ import annotations

import math
from typing import Any

from svgelements import Matrix

from mektel.core.text import shape_line
from mektel.core.text.fonts import FAMILIES, WEIGHTS
from mektel.formats.svg import areas
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.paint import NoLayerError, gradient_values, server_of, share, solid
from mektel.formats.svg.pieces import Box, Piece, painted
from mektel.formats.svg.shapes import NotAShapeError, matrix_of, scale_of, to_number

FAMILY = "Hanken Grotesk"
# Ascent and descent of the box that a line of text is given, as shares of its size.
ASCENT, DESCENT = 0.95, 0.3


def pieces_of_text(drawing: Drawing, node: Node) -> list[Piece]:
    """A piece for each run; runs that follow each other stand on one line."""
    matrix = matrix_of(node)
    if abs(matrix.a * matrix.d - matrix.b * matrix.c) < 1e-9:
        raise NotAShapeError("it has no width or height")
    runs = _runs(drawing, node)
    made: list[Piece] = []
    # Runs between two places that are given are moved together by the anchor.
    begin = 0
    for at in range(1, len(runs) + 1):
        if at == len(runs) or runs[at].placed:
            made += _line(drawing, runs[begin:at])
            begin = at
    return made


class _Run:
    def __init__(self, node: Node, text: str, placed: bool, x: float, y: float) -> None:
        self.node, self.text, self.placed, self.x, self.y = node, text, placed, x, y


def _runs(drawing: Drawing, node: Node) -> list[_Run]:
    runs: list[_Run] = []
    ended_with_space = True

    def walk(each: Node, x: float, y: float, placed: bool) -> None:
        nonlocal ended_with_space
        if each.get("display") == "none":
            return
        if each.get("x"):
            x, placed = to_number(each.get("x").replace(",", " ").split()[0]), True
        if each.get("y"):
            y, placed = to_number(each.get("y").replace(",", " ").split()[0]), True
        y += to_number(each.get("dy").replace(",", " ").split()[0]) if each.get("dy") else 0.0
        placed = placed or bool(each.get("dy"))
        for child, text in each.inside:
            if child is not None:
                if child.tag == "tspan":
                    walk(child, x, y, placed)
                elif child.tag not in ("title", "desc"):
                    drawing.leave(child, "only plain text becomes a label")
                placed = False if runs else placed
                continue
            kept = " ".join(text.split())
            if text[:1].isspace() and not ended_with_space:
                kept = f" {kept}"
            if text[-1:].isspace() and kept.strip():
                kept += " "
            if not kept.strip():
                if kept and runs and not ended_with_space:
                    runs[-1].text += " "
                    ended_with_space = True
                continue
            ended_with_space = kept.endswith(" ")
            runs.append(_Run(each, kept, placed or not runs, x, y))
            placed = False

    walk(node, 0.0, 0.0, True)
    if runs:
        runs[-1].text = runs[-1].text.rstrip()
    return runs


def _line(drawing: Drawing, runs: list[_Run]) -> list[Piece]:
    """Runs beside each other, from where the first is placed."""
    made: list[tuple[_Run, dict[str, Any], float, float]] = []
    for each in runs:
        run, node = each, each.node
        scale = scale_of(node)
        family = _family(drawing, node)
        px = min(400.0, max(4.0, _font_size(node) * scale))
        weight = _weight(node.inherited("font-weight", "400"))
        spacing = max(-20.0, min(100.0, to_number(node.inherited("letter-spacing")) * scale))
        capitals = node.inherited("text-transform") == "uppercase"
        text = run.text.upper() if capitals else run.text
        advance = shape_line(text, family, weight, px, spacing).advance
        fill = drawing.paint(node, "fill")
        colour = solid(fill, 1.0, node.inherited("color", "#000000"))
        server = server_of(drawing, fill)
        if colour is None:
            colour = "#000000" if server else None
            if colour is None:
                drawing.leave(node, "its letters have no colour", f"“{run.text.strip()[:40]}”")
        values = {"family": family, "size": round(px, 3), "weight": weight, "colour": colour,
                  "spacing": round(spacing, 3), "text": run.text,
                  "case": "capitals" if capitals else "as-written", "server": server,
                  **_edge(drawing, node, scale)}
        opacity = share(node.inherited("fill-opacity", "1"))
        if made and made[-1][3] == opacity and made[-1][1] | {"text": ""} == values | {"text": ""}:
            before, _, _, _ = made.pop()
            run = _Run(before.node, before.text + run.text, before.placed, before.x, before.y)
            values["text"] = run.text
            text = run.text.upper() if capitals else run.text
            advance = shape_line(text, family, weight, px, spacing).advance
        made.append((run, values, advance, opacity))
    first = runs[0]
    matrix = matrix_of(first.node)
    spot = matrix.point_in_matrix_space((first.x, first.y))
    anchor = first.node.inherited("text-anchor", "start")
    whole = sum(advance for _, _, advance, _ in made)
    left = float(spot.x) - whole * {"middle": 0.5, "end": 1.0}.get(anchor, 0.0)
    alone = len(made) == 1
    # Letters that are slanted, mirrored or stretched are shapes.
    turn, upright = _turn_of(matrix), _upright(matrix, spot, (first.x, first.y))
    pieces: list[Piece] = []
    start = left
    for run, values, advance, opacity in made:
        server = values.pop("server")
        if values["colour"] is not None and run.text.strip():
            baseline = float(spot.y)
            size: Any = values["size"]
            if first.node.inherited("dominant-baseline") in ("middle", "central"):
                baseline += 0.35 * size
            letters = shape_line(run.text.upper() if values["case"] == "capitals" else run.text,
                                 values["family"], values["weight"], size, values["spacing"])
            # What a gradient's shares are of is the whole text, in its own units.
            (x0, y0), (x1, y1) = (((~upright).point_in_matrix_space(corner)) for corner in (
                (start, baseline - letters.ascent), (start + whole, baseline + letters.descent)))
            units = (float(x0), float(y0), float(x1), float(y1))
            if turn is None or (turn and server):
                pieces += _as_shapes(drawing, run, letters.contours, (left, baseline),
                                     (~upright) * matrix, units, opacity)
                left += advance
                continue
            if server:
                box = (left, baseline - letters.ascent, left + advance, baseline + letters.descent)
                values |= _shades(drawing, run, server, units, box)
            if turn:
                values["turn"] = (turn, float(spot.x), float(spot.y))
            align = {"middle": "centre", "end": "end"}.get(anchor, "start") if alone else "start"
            lead = len(run.text) - len(run.text.lstrip())
            space = shape_line(run.text[:lead], values["family"], values["weight"], size,
                               values["spacing"]).advance if lead else 0.0
            pieces.append(Piece(
                "text", run.node, opacity=opacity,
                box=(left + space, baseline - ASCENT * size, left + advance,
                     baseline + DESCENT * size),
                values=values | {"align": align, "baseline": baseline,
                                 "text": run.text.strip()[:200]}))
        left += advance
    return pieces


def _turn_of(matrix: Matrix) -> float | None:
    """Degrees, clockwise, that a matrix turns by; None for what slants, mirrors or stretches.
    Upright letters that are stretched a little stay letters.
    """
    a, b, c, d = (float(part) for part in (matrix.a, matrix.b, matrix.c, matrix.d))
    if max(abs(b), abs(c)) < 1e-6 and min(a, d) > 0:
        return 0.0
    even = max(abs(a - d), abs(b + c)) <= 1e-4 * math.hypot(a, b)
    return math.degrees(math.atan2(b, a)) if even else None


def _upright(matrix: Matrix, spot: Any, first: tuple[float, float]) -> Matrix:
    """From a text's own units to px as if it stood upright, ``first`` at ``spot``."""
    scale = math.sqrt(abs(matrix.a * matrix.d - matrix.b * matrix.c))
    return Matrix(scale, 0, 0, scale, float(spot.x) - scale * first[0],
                  float(spot.y) - scale * first[1])


def _as_shapes(
    drawing: Drawing, run: _Run, contours: Any, pen: tuple[float, float], matrix: Matrix,
    units: Box, opacity: float,
) -> list[Piece]:
    """Letters as one shape, moved from where they stand upright by a matrix."""
    drawing.leave(run.node, "its letters become a shape, since a label is not slanted, mirrored or "
                  "stretched, and not turned with a gradient", f"“{run.text.strip()[:40]}”")
    commands: list[Any] = []
    for contour in contours:
        spots = [(float(x + pen[0]), float(y + pen[1])) for x, y in contour]
        commands += [("M", spots[0]), *(("L", each) for each in spots[1:]), ("Z",)]
    if not commands:
        return []
    path = areas.text_of(areas.placed(commands, matrix))
    return painted(drawing, Piece("fill", run.node, path, opacity=opacity), "fill", units)


def letters_as_shape(piece: Piece) -> Piece | None:
    """Upright letters of one colour as a shape; None for others."""
    values = piece.values
    if piece.box is None or not {"turn", "style", "edge"}.isdisjoint(values):
        return None
    text = values["text"].upper() if values["case"] == "capitals" else values["text"]
    line = shape_line(text, values["family"], values["weight"], values["size"], values["spacing"])
    commands: list[Any] = []
    for contour in line.contours:
        spots = [(float(x) + piece.box[0], float(y) + values["baseline"]) for x, y in contour]
        commands += [("M", spots[0]), *(("L", each) for each in spots[1:]), ("Z",)]
    return Piece("fill", piece.node, areas.text_of(commands), opacity=piece.opacity,
                 blend=piece.blend, paint={"style": "solid", "colour": values["colour"]})


def _shades(
    drawing: Drawing, run: _Run, server: Node, units: Box, box: Box
) -> dict[str, Any]:
    """The letters' gradient in the box that a label has."""
    try:
        if server.tag == "pattern":
            raise NoLayerError
        return gradient_values(server, drawing, units, box, run.node) or {}
    except NoLayerError:
        drawing.leave(run.node, "its letters have a pattern or gradient that a label has not; they "
                      "are drawn in black", f"“{run.text.strip()[:40]}”")
        return {}


def _edge(drawing: Drawing, node: Node, scale: float) -> dict[str, Any]:
    """The line round letters, which a label has behind them."""
    width = to_number(node.inherited("stroke-width", "1"), 1.0) * scale
    colour = solid(node.inherited("stroke", "none"), share(node.inherited("stroke-opacity", "1")),
                   node.inherited("color", "#000000"))
    if colour is None or width <= 0:
        return {}
    if node.inherited("paint-order").split()[:1] != ["stroke"]:
        drawing.leave(node, "the line round its letters lies behind them")
    return {"edge": round(min(width / 2, 20.0), 3), "edge_colour": colour}


def _family(drawing: Drawing, node: Node) -> str:
    first = node.inherited("font-family").split(",")[0].strip(" \"'")
    if first in FAMILIES:
        return first
    if first:
        drawing.leave(node, f"it is set in {FAMILY} instead", f"the font “{first}”")
    return FAMILY


def _font_size(node: Node) -> float:
    walk: Node | None = node
    factor = 1.0
    while walk is not None:
        text = walk.get("font-size")
        if text.endswith("em") and not text.endswith("rem"):
            factor *= to_number(text[:-2], 1.0)
        elif text.endswith("%"):
            factor *= to_number(text[:-1], 100.0) / 100
        elif text and text != "inherit":
            return to_number(text, 16.0) * factor
        walk = walk.parent
    return 16.0 * factor


def _weight(text: str) -> int:
    named = {"normal": 400, "bold": 700, "lighter": 400, "bolder": 700}
    try:
        wanted = named.get(text.strip()) or int(float(text))
    except (ValueError, OverflowError):
        wanted = 400
    return min(WEIGHTS, key=lambda weight: abs(weight - wanted))
