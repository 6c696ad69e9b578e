"""From nodes to pieces: what groups do to what is in them (opacity, blend, clip, mask, filter)."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from itertools import combinations
from typing import Any

import shapely
from svgelements import Matrix

from mektel.core.errors import MektelError
from mektel.formats.svg import areas, baking
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.expansion import VIEWPORT
from mektel.formats.svg.filters import NoSuchFilterError
from mektel.formats.svg.images import piece_of_image
from mektel.formats.svg.markers import placed_markers
from mektel.formats.svg.paint import (
    FoundShadow,
    NoLayerError,
    moved_paint,
    shadows_of,
    share,
)
from mektel.formats.svg.patterns import pattern_of
from mektel.formats.svg.pieces import SHAPES, Piece, pieces_of_shape
from mektel.formats.svg.shapes import NotAShapeError, Shape, matrix_of, placed_at, scale_of
from mektel.formats.svg.texts import letters_as_shape, pieces_of_text

GROUPS = {"svg", "g", "a"}
SILENT = {
    "defs", "style", "title", "desc", "metadata", "namedview", "linearGradient", "radialGradient",
    "filter", "clipPath", "mask", "pattern", "symbol", "marker", "script", "animate",
    "animateTransform", "animateMotion", "set", "view",
}


def collect(drawing: Drawing, node: Node) -> list[Piece]:
    """The pieces of all that is in ``node``, back to front; what cannot be had is listed."""
    return [piece for child in node.children for piece in _pieces_of(drawing, child)]


def _pieces_of(drawing: Drawing, node: Node) -> list[Piece]:
    if node.tag in SILENT:
        return []
    if node.get("display") == "none":
        drawing.leave(node, "hidden in the drawing")
        return []
    try:
        made = _own_pieces(drawing, node)
        made = _within_viewport(drawing, node, made)
        return with_effects(drawing, node, made) if made else []
    except (NotAShapeError, NoLayerError) as error:
        drawing.leave(node, str(error))
    except MektelError:
        raise
    except Exception:
        drawing.leave(node, "its values cannot be read")
    return []


def _own_pieces(drawing: Drawing, node: Node) -> list[Piece]:
    if node.tag in GROUPS:
        return collect(drawing, node)
    if node.inherited("visibility") in ("hidden", "collapse"):
        drawing.leave(node, "hidden in the drawing")
        return []
    if node.tag == "text":
        return pieces_of_text(drawing, node)
    if node.tag == "image":
        return piece_of_image(drawing, node)
    if node.tag not in SHAPES:
        drawing.leave(node, "this kind of element does not become a layer")
        return []
    made = [_shaded(drawing, piece) if piece.server else piece
            for piece in pieces_of_shape(drawing, node)]
    return [*(piece for piece in made if piece is not None), *_markers_of(drawing, node)]


def _shaded(drawing: Drawing, piece: Piece) -> Piece | None:
    """A piece whose gradient or pattern no layer has, as a picture; None where it paints nothing.
    """
    assert piece.server is not None
    server, units = piece.server
    if server.tag != "pattern":
        return baking.shaded(drawing, piece)
    pattern = pattern_of(drawing, server, units, piece.node)
    if pattern is None:
        drawing.leave(piece.node, "its pattern paints nothing")
        return None
    return baking.tiled(drawing, piece, pattern, _elsewhere(
        drawing, piece.node, pattern.content, pattern.matrix))


def _markers_of(drawing: Drawing, node: Node) -> list[Piece]:
    made = []
    for placed in placed_markers(drawing, node):
        pieces = _elsewhere(drawing, node, placed.marker, placed.matrix)
        made += clipped(drawing, node, pieces, placed.window) if placed.window else pieces
    return made


def _elsewhere(drawing: Drawing, node: Node, target: Node, matrix: Matrix) -> list[Piece]:
    """The pieces of what ``node`` refers to, placed by a matrix."""
    if target in drawing.within:
        raise NotAShapeError(f"what it refers to, {target.label}, repeats itself")
    drawing.within.append(target)
    drawing.owners.append(node)
    try:
        with placed_at(target, matrix):
            return collect(drawing, target)
    finally:
        drawing.within.pop()
        drawing.owners.pop()


def with_effects(drawing: Drawing, node: Node, pieces: list[Piece]) -> list[Piece]:
    """In the order of SVG: filter, clip, mask, opacity, blend."""
    if node.get("filter", "none") != "none":
        pieces = _filtered(drawing, node, pieces)
    if node.get("clip-path", "none") != "none":
        target = drawing.referred(node.get("clip-path"))
        if target is None or target.tag != "clipPath":
            drawing.leave(node, f"its clip-path “{node.get('clip-path')[:40]}” is skipped")
        else:
            pieces = clipped(drawing, node, pieces, _clip_area(drawing, node, target, pieces))
    if node.get("mask", "none") != "none":
        pieces = _masked(drawing, node, pieces)
    opacity = share(node.get("opacity", "1"))
    if opacity < 1 and pieces:
        pieces = _faded(drawing, node, pieces, opacity)
    mode = node.get("mix-blend-mode", "normal")
    if mode != "normal" and pieces:
        whole = pieces if len(pieces) == 1 else [baking.baked(drawing, node, pieces)]
        pieces = [replace(piece, blend=mode) for piece in whole]
    return pieces


def _within_viewport(drawing: Drawing, node: Node, pieces: list[Piece]) -> list[Piece]:
    if VIEWPORT not in node.attributes or not pieces or node.parent is None:
        return pieces
    if node.get("overflow") == "visible":
        return pieces
    x, y, width, height = (float(part) for part in node.get(VIEWPORT).split())
    window = areas.transformed(shapely.box(x, y, x + width, y + height), matrix_of(node))
    return clipped(drawing, node, pieces, window)


def clipped(drawing: Drawing, node: Node, pieces: Sequence[Piece], window: Any) -> list[Piece]:
    """Pieces cut to an area; what has soft edges or pixels becomes a picture."""
    made = []
    for piece in pieces:
        if window.covers(shapely.box(*piece.reach)):
            made.append(piece)
        elif piece.kind == "text":
            if not window.intersects(shapely.box(*piece.bounds)):
                continue
            letters = letters_as_shape(piece)
            if letters is None:
                drawing.leave(piece.node, "it is not cut off by what clips it")
                made.append(piece)
                continue
            drawing.leave(piece.node, "its letters become a shape, since they are cut off",
                          f"“{piece.values['text'][:40]}”")
            made += clipped(drawing, node, [letters], window)
        elif piece.kind in ("fill", "line"):
            left = piece.area.intersection(window)
            if piece.area.difference(window).area < 1e-3:
                made.append(piece)
            elif not left.is_empty and left.area > 1e-6:
                made.append(_repainted(piece, left))
        else:
            made.append(baking.baked(drawing, node, [piece], clip=window))
    return made


def _repainted(piece: Piece, area: Any) -> Piece:
    """A piece cut to an area, its gradient where it was."""
    made = piece.with_area(area)
    half = piece.values.get("width", 0.0) / 2 if piece.kind == "line" else 0.0
    box = shapely.box(*piece.bounds).bounds if not half else piece.area.bounds
    return replace(made, paint=moved_paint(piece.paint, box, area.bounds))


def _clip_area(drawing: Drawing, node: Node, target: Node, pieces: Sequence[Piece]) -> Any:
    """What a clip path lets through, px."""
    parts = []
    outer = matrix_of(node)
    if target.get("clipPathUnits") == "objectBoundingBox":
        x0, y0, x1, y1 = bounds_of(pieces)
        outer = Matrix(x1 - x0, 0, 0, y1 - y0, x0, y0)
    for child in target.children:
        if child.tag in ("text", "image"):
            drawing.leave(child, "only shapes clip")
        if child.tag not in SHAPES and child.tag != "g":
            continue
        for shape in (each for each in child.walk() if each.tag in SHAPES):
            commands = areas.commands_of(shape)
            own = _matrix_within(shape, target)
            lines = areas.courses(areas.placed(commands, own * outer))
            rule = shape.inherited("clip-rule")
            parts.append(areas.filled(lines, rule == "evenodd"))
    return shapely.unary_union(parts)


def _matrix_within(node: Node, ancestor: Node) -> Matrix:
    """A node's transform within another, that one's own included."""
    made = Matrix()
    walk: Node | None = node
    while walk is not None:
        if walk.get("transform"):
            made = made * Matrix(walk.get("transform"))
        if walk is ancestor:
            break
        walk = walk.parent
    return made


def _masked(drawing: Drawing, node: Node, pieces: list[Piece]) -> list[Piece]:
    target = drawing.referred(node.get("mask"))
    if target is None or target.tag != "mask":
        drawing.leave(node, f"its mask “{node.get('mask')[:40]}” is skipped")
        return pieces
    units = target.get("maskContentUnits") == "objectBoundingBox"
    matrix = matrix_of(node)
    if units:
        x0, y0, x1, y1 = bounds_of(pieces)
        matrix = Matrix(x1 - x0, 0, 0, y1 - y0, x0, y0)
    mask = _elsewhere(drawing, node, target, matrix)
    white = all(piece.opaque and piece.kind in ("fill", "line")
                and piece.paint.get("colour", "").upper() in ("#FFFFFF", "#FFF")
                for piece in mask)
    if white and target.get("mask-type") != "alpha":
        return clipped(drawing, node, pieces, shapely.unary_union([piece.area for piece in mask]))
    return [baking.baked(drawing, node, pieces, mask=mask,
                         by_alpha=target.get("mask-type") == "alpha")]


def bounds_of(pieces: Sequence[Piece]) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of what is painted, without blur."""
    boxes = [piece.bounds for piece in pieces if piece.kind not in ("shadow", "inner-shadow")]
    lefts, tops, rights, bottoms = zip(*(boxes or [(0.0, 0.0, 0.0, 0.0)]), strict=True)
    return min(lefts), min(tops), max(rights), max(bottoms)


def _faded(drawing: Drawing, node: Node, pieces: list[Piece], opacity: float) -> list[Piece]:
    """A group as one at ``opacity``: part by part where nothing lies over anything else."""
    if len(pieces) == 2 and _is_edged(*pieces):
        face, line = pieces
        assert face.shape is not None
        inner = face.shape.inset(line.values["width"] / 2)
        pieces = [replace(face, shape=inner, cover=inner.area(), path=""), line]
    elif any(piece.kind == "text" for piece in pieces):
        if _overlaps(pieces):
            drawing.leave(node, "its opacity is given to each layer in it, so that they show "
                          "through each other")
    elif _overlaps(pieces):
        pieces = [baking.baked(drawing, node, pieces)]
    return [replace(piece, opacity=piece.opacity * opacity) for piece in pieces]


def _is_edged(face: Piece, line: Piece) -> bool:
    """Whether these are a face in one colour and an opaque line along its edge."""
    return (face.kind == "fill" and line.kind == "line" and line.opaque
            and face.paint.get("style") == "solid" and face.shape is not None
            and face.shape == line.shape
            and min(face.shape.width, face.shape.height) > line.values["width"])


def _overlaps(pieces: Sequence[Piece]) -> bool:
    if len(pieces) > 90:
        return True
    for one, two in combinations(pieces, 2):
        if "shadow" in (one.kind, two.kind) or "inner-shadow" in (one.kind, two.kind):
            return True
        if shapely.box(*one.bounds).intersects(shapely.box(*two.bounds)) and (
                "text" in (one.kind, two.kind)
                or one.area.intersection(two.area).area > 1e-3):
            return True
    return False


def _filtered(drawing: Drawing, node: Node, pieces: list[Piece]) -> list[Piece]:
    target = drawing.referred(node.get("filter"))
    if target is None or target.tag != "filter":
        why = ("is not in the drawing" if re.match(r"url\(", node.get("filter"))
               else "is skipped")
        drawing.leave(node, f"the filter {node.get('filter')[:40]} {why}")
        return pieces
    if not any(step.tag.startswith("fe") for step in target.children):
        return []
    scale = scale_of(node)
    if target.get("primitiveUnits") != "objectBoundingBox":
        try:
            return _shadowed(node, pieces, shadows_of(target, scale))
        except NoLayerError:
            pass
    try:
        return [baking.baked(drawing, node, pieces, filter_node=target)]
    except NoSuchFilterError as error:
        drawing.leave(target, f"{error}; the filter is skipped")
        return pieces


def _form_of(pieces: Sequence[Piece], cover: Any) -> tuple[Shape | None, float]:
    """The form of a face whose edge is that of all the pieces, and by how much a line on it makes
    that larger.
    """
    face = max((piece for piece in pieces if piece.kind == "fill" and piece.shape),
               key=lambda piece: piece.area.area, default=None)
    if face is None or face.shape is None:
        return None, 0.0
    grown = max((piece.values["width"] / 2 for piece in pieces
                 if piece.kind == "line" and piece.shape == face.shape), default=0.0)
    whole = face.shape.inset(-grown).area()
    same = cover.symmetric_difference(whole).area <= 0.05 * whole.length
    return (face.shape, grown) if same else (None, 0.0)


def _shadowed(node: Node, pieces: list[Piece], shadows: list[FoundShadow]) -> list[Piece]:
    """Pieces with the shadows of all of them together, where layers can say that."""
    if any(piece.kind in ("picture", "shadow") for piece in pieces) or not pieces:
        raise NoLayerError("its filter is for pictures")
    texts = [piece for piece in pieces if piece.kind == "text"]
    if len(texts) == len(pieces):
        if len(shadows) != 1 or shadows[0].inner or shadows[0].spread:
            raise NoLayerError("its letters have several shadows")
        first = shadows[0]
        return [replace(piece, values=piece.values | {
            "shadow_colour": first.colour, "shadow_offset": (first.dx, first.dy),
            "shadow_blur": round(first.sigma * 2, 3)}) for piece in pieces]
    if texts:
        raise NoLayerError("its letters share a shadow with shapes")
    cover = shapely.unary_union([piece.area for piece in pieces])
    shape, grown = _form_of(pieces, cover)
    hidden = shapely.unary_union([piece.area for piece in pieces if piece.opaque])
    if not all(shadow.cut or shadow.inner for shadow in shadows) and (
            cover.difference(hidden.buffer(0.01)).area > 0.5):
        raise NoLayerError("its shadow shows through what casts it")
    single = len(pieces) == 1 and pieces[0].kind == "fill"
    path = "" if shape else pieces[0].path if single else areas.text_of_area(cover)
    behind: list[Piece] = []
    before: list[Piece] = []
    for shadow in shadows:
        made = Piece(
            "inner-shadow" if shadow.inner else "shadow", node, path, shape,
            None if shape else cover, values={
                "colour": shadow.colour, "offset": (shadow.dx, shadow.dy),
                "blur": round(shadow.sigma * 2, 3), "spread": shadow.spread + grown})
        (before if shadow.inner else behind).append(made)
    return [*behind, *pieces, *before]

