"""A drawing as pieces in paint order: fills, lines, shadows, texts and pictures, placed in px."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np
import shapely
from shapely import affinity
from svgelements import Matrix

from mektel.formats.svg import areas
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.paint import NoLayerError, gradient_values, server_of, share, solid
from mektel.formats.svg.shapes import (
    NotAShapeError,
    Shape,
    matrix_of,
    scale_of,
    shape_of,
    to_number,
)

SHAPES = {"rect", "circle", "ellipse", "path", "line", "polyline", "polygon"}
Box = tuple[float, float, float, float]


@dataclass
class Piece:
    """One thing that is painted. ``kind`` is that of the layer it becomes.

    ``path`` is its edge with its curves, px; ``shape`` is there where a simpler form says the same.
    A ``line`` runs along its shape. ``values`` are those of the layer; ``png`` is a picture's
    content, in ``box`` (left, top, right, bottom), ``coarser`` the same at lower densities.
    ``server`` is a gradient or pattern that no layer has, and the box that its units are of.
    """

    kind: str
    node: Node
    path: str = ""
    shape: Shape | None = None
    cover: Any = None
    paint: dict[str, Any] = field(default_factory=dict)
    values: dict[str, Any] = field(default_factory=dict)
    opacity: float = 1.0
    blend: str = "normal"
    png: bytes = b""
    box: Box | None = None
    coarser: tuple[bytes, ...] = ()
    server: tuple[Node, Box] | None = None

    @cached_property
    def area(self) -> Any:
        """The polygons that it covers, px."""
        if self.cover is not None:
            return self.cover
        if self.box is not None:
            upright = shapely.box(*self.box)
            turn = self.values.get("turn")
            return affinity.rotate(upright, turn[0], turn[1:]) if turn else upright
        commands = areas.path_commands(self.path)
        covered = areas.filled(areas.courses(commands))
        if self.kind == "line":
            half = self.values["width"] / 2
            covered = covered.buffer(half).difference(covered.buffer(-half))
        return covered

    @cached_property
    def bounds(self) -> Box:
        if self.box is not None:
            return tuple(self.area.bounds) if "turn" in self.values else self.box
        if self.cover is None and self.kind != "line":
            return areas.bounds_of(areas.courses(areas.path_commands(self.path)))
        return tuple(self.area.bounds) or (0.0, 0.0, 0.0, 0.0)

    @property
    def reach(self) -> Box:
        """What its pixels need: its bounds with a shadow's blur."""
        x0, y0, x1, y1 = self.bounds
        if self.kind != "shadow":
            return x0, y0, x1, y1
        (dx, dy), room = self.values["offset"], self.values["blur"] * 1.5 + self.values["spread"]
        return x0 + dx - room, y0 + dy - room, x1 + dx + room, y1 + dy + room

    @property
    def opaque(self) -> bool:
        """Whether nothing shines through it."""
        if self.kind in ("text", "picture") or self.opacity < 1 or self.blend != "normal":
            return False
        colours = [stop["colour"] for stop in self.paint.get("stops", ())]
        colours = colours or [self.paint.get("colour", "")]
        return all(len(colour) == 7 for colour in colours)

    def with_area(self, area: Any) -> Piece:
        """The same, cut to other polygons. Raises :class:`NotAShapeError`."""
        kind = "fill" if self.kind == "line" else self.kind
        return replace(self, kind=kind, cover=area, path=areas.text_of_area(area), shape=None,
                       values={} if kind == "fill" else self.values)


def pieces_of_shape(drawing: Drawing, node: Node) -> list[Piece]:
    """The fill and the line of a basic shape. Raises :class:`NotAShapeError`."""
    commands = areas.commands_of(node)
    if not commands:
        return []
    matrix = matrix_of(node)
    edge = areas.placed(commands, matrix)
    shape = _simple(node)
    units = areas.bounds_of(areas.courses(commands, scale_of(node)))
    made = _fill(drawing, node, edge, shape, units)
    made += _line(drawing, node, commands, edge, matrix, shape, units)
    order = node.inherited("paint-order").split()
    if order and order[0] == "stroke":
        made.reverse()
    return made


def _simple(node: Node) -> Shape | None:
    if node.tag not in ("rect", "circle", "ellipse", "path"):
        return None
    try:
        return shape_of(node)
    except NotAShapeError:
        return None


def _fill(
    drawing: Drawing, node: Node, edge: list[Any], shape: Shape | None, units: Box
) -> list[Piece]:
    if node.tag == "line" or drawing.paint(node, "fill") == "none":
        return []
    lines = areas.courses(edge)
    if not any(len(points) > 2 for points, _ in lines):
        return []
    if not any(np.ptp(points, axis=0).all() for points, _ in lines):
        return []
    even_odd = node.inherited("fill-rule") == "evenodd"
    cover = areas.filled(lines, True) if even_odd and not shape else None
    path = areas.text_of(edge)
    if cover is not None:
        if cover.is_empty:
            return []
        path = areas.text_of(areas.nested(edge, cover) or ()) or areas.text_of_area(cover)
    piece = Piece("fill", node, path, shape, cover,
                  opacity=share(node.inherited("fill-opacity", "1")))
    return painted(drawing, piece, "fill", units)


def _line(
    drawing: Drawing, node: Node, commands: Sequence[Any], edge: list[Any], matrix: Matrix,
    shape: Shape | None, units: Box,
) -> list[Piece]:
    if drawing.paint(node, "stroke") == "none":
        return []
    width, scale = to_number(node.inherited("stroke-width", "1"), 1.0), scale_of(node)
    if not 0 < width * scale < 4000:
        return []
    opacity = share(node.inherited("stroke-opacity", "1"))
    dashed = node.inherited("stroke-dasharray", "none") != "none"
    closed = commands[-1][0] == "Z" and not dashed
    if shape and closed and _keeps_corners(node, shape, width * scale, matrix):
        piece = Piece("line", node, areas.text_of(edge), shape, opacity=opacity,
                      values={"width": width * scale})
        return painted(drawing, piece, "stroke", units)
    if node.get("vector-effect") == "non-scaling-stroke":
        cover = areas.stroked(node, areas.courses(edge), width, 1.0)
    else:
        local = areas.stroked(node, areas.courses(commands, scale), width, scale)
        cover = areas.transformed(local, matrix)
    if cover.is_empty:
        return []
    piece = Piece("fill", node, areas.text_of_area(cover), None, cover, opacity=opacity,
                  values={"name": "Line"})
    return painted(drawing, piece, "stroke", units)


def _keeps_corners(node: Node, shape: Shape, width: float, matrix: Matrix) -> bool:
    """Whether a line of ours along the shape has the corners of the stroke."""
    if abs(abs(matrix.a) - abs(matrix.d)) > 1e-4:
        return False
    # A stroke round an ellipse has edges that are no ellipses.
    if shape.form == "ellipse" and abs(shape.width - shape.height) > 0.01:
        return False
    sharp = shape.form == "box" and min(shape.radii) < width / 2 + 1e-6
    if sharp and max(shape.radii) > 0:
        return False
    return not sharp or node.inherited("stroke-linejoin", "miter") == "miter"


def painted(drawing: Drawing, piece: Piece, name: str, units: Box) -> list[Piece]:
    """The piece with its colour or gradient; nothing where it has none."""
    node = piece.node
    text = drawing.paint(node, name)
    server = server_of(drawing, text)
    if server is not None:
        if server.tag == "pattern":
            return [replace(piece, server=(server, units))]
        try:
            paint = gradient_values(server, drawing, units, piece.bounds, node)
        except NoLayerError:
            return [replace(piece, server=(server, units))]
        return [replace(piece, paint=paint)] if paint is not None else []
    if "url(" in text:
        fallback = text.partition(")")[2].strip()
        if not fallback:
            drawing.leave(node, f"its {name} “{text[:40]}” is not in the drawing")
            return []
        text = fallback
    colour = solid(text, 1.0, node.inherited("color", "#000000"))
    if colour is None:
        if text.strip().lower() != "none":
            drawing.leave(node, f"its {name} “{text[:40]}” is not a colour")
        return []
    return [replace(piece, paint={"style": "solid", "colour": colour})]
