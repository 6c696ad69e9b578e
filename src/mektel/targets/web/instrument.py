"""What an element holds of each primitive: CSS declarations, by selector within its shadow root.

A value that is driven is written as a custom property with the value that it has by default; the
properties that this takes are gathered on the way.
"""

from __future__ import annotations

import base64
from typing import Any

from mektel.core.kit import OUTLINE
from mektel.core.look import FillLook, LineLook
from mektel.core.look.primitives import is_turned, line_band
from mektel.formats.png import webp_of_png as smaller
from mektel.targets.answering import DOWN, SOFTER
from mektel.targets.baking import BakedPicture
from mektel.targets.base import LayerPlan
from mektel.targets.instrument import BLURRED, NATIVE, Groups, Instrument
from mektel.targets.sheet import Part, PartState, Sheet
from mektel.targets.web import answering, fidelity, labels
from mektel.targets.web.blurred import blurred_outline, slides, sliding_shadow
from mektel.targets.web.css_values import Declarations, number, percent, px, span
from mektel.targets.web.lamps import lamp
from mektel.targets.web.motion import moving_stops, registered
from mektel.targets.web.outlines import (
    clip,
    is_round,
    place,
    polygon,
    radius,
    turned_outline,
)
from mektel.targets.web.paint import background
from mektel.targets.web.properties import Properties

LAYERS = ".layers"
SIDES = {"x": "left", "y": "top", "width": "width", "height": "height"}
STILL = {"rotate": "0deg", "scale": "1 1"}


def selector_of(part: Part) -> str:
    return f'[part="{part.name}"]'


class WebInstrument(Instrument):
    def __init__(self, sheet: Sheet) -> None:
        super().__init__(sheet)
        self.properties = Properties(sheet)

    # What CSS cannot do

    def reason(self, part: Part) -> str:
        kinds = {"bevel": "CSS has no light on edges",
                 "progress": "its bar is a picture; fill it by state",
                 "picture": "it is a picture"}
        if part.kind in kinds:
            return kinds[part.kind]
        reasons = (fidelity.picture_reason(part, state) for state in part.distinct)
        reason = next(filter(None, reasons), "")
        if not reason and part.kind == "icon" and (
                len({state.values.icon for state in part.distinct}) > 1):
            return "only an icon of one form and colour stays a drawing"
        return reason

    def how(self, part: Part) -> LayerPlan:
        if part.kind == "lens":
            return LayerPlan(part.title, "partly", (
                "blur and tint are native, its rim is a picture; CSS cannot bend what lies behind"),
                differs=True)
        why = self.reason(part)
        if why:
            return LayerPlan(part.title, "baked", why)
        differs = fidelity.difference(part)
        if differs:
            return LayerPlan(part.title, "partly", differs, differs=True)
        outlines = self.sheet.outline.distinct
        joined = len({state.values.form for state in outlines}) > 1 or len(
            {state.values.corners for state in outlines}) > 1
        if not fidelity.edges_are_whole(part):
            why = "browsers move its edges to whole pixels"
        elif joined and part.kind != "label":
            why = "where states with different corners join, the later one's hold"
        elif part.kind in ("fill", "line") and not is_round(
                part.rest.values.outline or part.rest.outline):
            why = "its outline stretches with the control"
        return LayerPlan(part.title, NATIVE, why)

    def reason_lost(self, part: Part, path: str) -> str:
        if part.kind == OUTLINE:
            return "its outline is written for the designed form"
        return "it is in a picture" if self.reason(part) else "CSS has it in a value with others"

    def reason_still(self, entry: Any) -> str:
        return answering.reason_still(self, entry)

    def plays_partly(self, entry: Any) -> str:
        return answering.plays_partly(self.sheet, entry)

    # Properties

    def ref(self, state: PartState, path: str, text: str, unit: str = "") -> str:
        """A value as CSS text; by a property, with that text by default, where it is driven."""
        driver = self.driver(state, path)
        return text if driver is None else f"var({self.properties.named(driver, unit)}, {text})"

    def length(self, state: PartState, path: str, value: float) -> str:
        return self.ref(state, path, px(value), "px")

    def pair(self, state: PartState, name: str, values: tuple[float, ...]) -> list[str]:
        """Two lengths, driven each by itself or together."""
        return [self.length(state, f"{name}.{at}" if f"{name}.{at}" in state.drivers else name,
                            value) for at, value in enumerate(values)]

    def colour(self, state: PartState, name: str) -> str:
        return self.ref(state, name, getattr(state.values, name).lower())

    def control_length(self, axis: int) -> str:
        """The control's own width or height."""
        text = px(self.sheet.size[axis])
        driver = self.sheet.size_drivers.get(axis)
        return text if driver is None else f"var({self.properties.named(driver, 'px')}, {text})"

    # Primitives

    def outline(self, state: PartState) -> Groups:
        outline = state.values
        return {LAYERS: {
            **answering.whole(self.sheet, state, *self.pair(state, "offset", outline.offset)),
            **answering.levels(self.sheet, state),
            "opacity": self.ref(state, "opacity", number(outline.opacity)),
            **({"will-change": "translate"} if is_round(outline) and fidelity.moves_by_fractions(
                state.part, "offset") else {}),
        }, **self._marks(state)}

    def _marks(self, state: PartState) -> Groups:
        """What bounds the marks that answers draw on the face."""
        if not answering.draws_marks(self.sheet):
            return {}
        if is_round(state.values):
            return {answering.MARKS: {"overflow": "hidden", "border-radius": self.corners(
                state, None, self.sheet.size, 0)}}
        shape = self.sheet.shape(state.flags)
        return {answering.MARKS: clip(shape, self.sheet.size, state.values.offset)}

    def corners(self, state: PartState, own: Any, size: tuple[float, float], grow: float) -> str:
        """``border-radius`` of a layer's outline; the control's follows what drives its radii."""
        form = own or state.outline
        text = radius(form, size, grow)
        outline = self.sheet.outline.states[state.flags]
        if own is not None or "corners" not in outline.drivers or not (
                form.form == "box" and not form.joins and form.vertical_radii is None):
            return text
        driven = self.length(outline, "corners", form.corners[0])
        if not text.endswith("px") or " " in text:
            return text
        more = float(text.removesuffix("px")) - form.corners[0]
        sign = "+" if more > 0 else "-"
        return driven if not more else f"max(0px, calc({driven} {sign} {px(abs(more))}))"

    def place(self, state: PartState, grow: float) -> Declarations:
        """Where a round outline's element lies in the control, and its corners."""
        own = state.values.outline
        corners = self.corners(state, own, state.size_of_own_box(), grow)
        if own is None:
            return place(None, grow, corners)
        more = {"x": -grow, "y": -grow, "width": 2 * grow, "height": 2 * grow}
        sides = {}
        for name, side in SIDES.items():
            share, length = getattr(own, name)
            path = f"outline.{name}.1"
            sides[side] = span(share, more[name], self.length(state, path, length)) if (
                path in state.drivers) else span(share, length + more[name])
        return place(sides, grow, corners)

    def shadow(self, state: PartState) -> Groups:
        values = state.values
        form = values.outline or state.outline
        if not is_round(form):
            return blurred_outline(self, state, self._blurred(state))
        if slides(state.part):
            return sliding_shadow(self, state, self._blurred(state))
        radii = *form.corners, *(form.vertical_radii or ())
        tucked = state.part.kind == "shadow" and state.is_hidden_below and (
            form.form != "box" or all(r == 0 or r >= values.spread + 2 for r in radii))
        return self.layer(state, self._blurred(state) | {
            # Where a face hides its inner edge, that edge lies 1px under the face.
            "--tuck": "1px" if tucked else "0px",
            **self.place(state, -1 if tucked else 0),
            **({"inset": "var(--tuck)"} if values.outline is None else {}),
            "box-shadow":
                "var(--x) var(--y) var(--blur) calc(var(--spread) + var(--tuck)) var(--colour)",
        })

    def inner_shadow(self, state: PartState) -> Groups:
        if not is_round(state.values.outline or state.outline):
            return blurred_outline(self, state, self._blurred(state))
        return self.layer(state, self._blurred(state) | {
            **self.place(state, 0),
            "box-shadow": "inset var(--x) var(--y) var(--blur) var(--spread) var(--colour)",
        })

    def _blurred(self, state: PartState) -> Declarations:
        """What a shadow, or a glow, is made of; a glow has no offset."""
        values = state.values
        offset = getattr(values, "offset", None)
        x, y = ("0px", "0px") if offset is None else self.pair(state, "offset", offset)
        x, y = answering.after_pointer(self.sheet, state.part, "offset", (x, y))
        blur = self.length(state, "blur", values.blur)
        lift = answering.pressed(self.sheet, state, "lift")
        if lift is not None and state.part.kind == "shadow" and not state.part.host:
            y, blur = (f"calc({value} + {px(share * lift.height)} * var({answering.MOVES}, 1))"
                       for value, share in ((y, DOWN), (blur, SOFTER)))
        return {
            "--colour": self.colour(state, "colour"), "--x": x, "--y": y, "--blur": blur,
            "--spread": self.length(state, "spread", values.spread),
        }

    def paint(self, state: PartState, width: float, height: float) -> tuple[str, Declarations]:
        """A CSS ``<image>`` or colour for a box of this size (px), and what it refers to."""
        values = state.values
        if values.style == "solid":
            return "var(--colour)", {"--colour": self.colour(state, "colour")}
        x, y = (percent(share) for share in values.centre)
        image, stops, angle = background(values, width, height, answering.after_pointer(
            self.sheet, state.part, "centre", (x, y)))
        if moving_stops(state):
            text, declared = registered([
                (self.ref(state, f"stops.{at}.colour", colour), place_)
                for at, (colour, place_) in enumerate(stops)])
            declared["--stops"] = text
        else:
            declared = {"--stops": self._stops(state, stops)}
        if angle is not None:
            declared["--angle"] = self.ref(state, "direction", f"{number(angle)}deg", "deg")
        return image, declared

    def _stops(self, state: PartState, stops: list[tuple[str, str]]) -> str:
        """(colour, place) of every stop; each colour, or all of them, may be driven."""
        text = ", ".join(
            f"{self.ref(state, f'stops.{at}.colour', colour)} {place_}"
            for at, (colour, place_) in enumerate(stops))
        driver = self.driver(state, "stops")
        return text if driver is None else f"var({self.properties.named(driver, 'stops')}, {text})"

    def fill(self, state: PartState) -> Groups:
        values, own = state.values, state.values.outline
        if not is_round(own or state.outline) or fidelity.ends_within_pixels(state):
            return self._clipped(state)
        width, height = state.size_of_own_box()
        paint, declared = self.paint(state, width + 2 * values.expand, height + 2 * values.expand)
        declared |= self.place(state, values.expand)
        grow = state.growth
        if grow < values.expand:
            # Its edge lies under the line on it; unlike a box, a clip may end within a pixel.
            corners = self.corners(state, own, (width, height), grow)
            declared["clip-path"] = f"inset({px(values.expand - grow)} round {corners})"
        return self.layer(state, declared | {"background": paint})

    def _clipped(self, state: PartState) -> Groups:
        """An outline that is not a rounded box: its element is clipped to it."""
        look, size, offset = state.drawn, self.sheet.size, state.outline.offset
        # A gradient lies in the element's box, and a layer is turned about a place in it.
        spare = state.values.style == "solid" and not any(
            is_turned(other.values) for other in state.part.distinct)
        if isinstance(look, LineLook):
            paint, declared = self.paint(state, look.outer.width, look.outer.height)
            area = clip(look.outer, size, offset, look.inner, spare)
        elif isinstance(look, FillLook):
            paint, declared = self.paint(state, look.outline.width, look.outline.height)
            area = clip(look.outline, size, offset, spare=spare)
        else:
            return self.layer(state, {})
        return self.layer(state, declared | {"background": paint, **area})

    def line(self, state: PartState) -> Groups:
        values, own = state.values, state.values.outline
        if not is_round(own or state.outline) or fidelity.ends_within_pixels(state):
            return self._clipped(state)
        edge, _ = line_band(values)
        width, height = state.size_of_own_box()
        paint, declared = self.paint(state, width + 2 * edge, height + 2 * edge)
        declared |= {"--width": self.length(state, "width", values.width),
                     **self.place(state, edge)}
        if values.style != "solid":
            return self.layer(state, declared | {
                "border": "var(--width) solid transparent", "background": f"{paint} border-box",
                "mask":
                    "linear-gradient(#000 0 0) border-box, linear-gradient(#000 0 0) padding-box",
                "mask-composite": "exclude",
            })
        # Browsers round a border to whole pixels; an inset shadow keeps its width.
        if all(float(other.values.width).is_integer() for other in state.part.distinct):
            return self.layer(state, declared | {"border": "var(--width) solid var(--colour)"})
        return self.layer(state, declared | {
            "box-shadow": "inset 0 0 0 var(--width) var(--colour)"})

    def gloss(self, state: PartState) -> Groups:
        """The outline, drawn in by the gap, holds a band whose lower corners are half an ellipse.
        """
        values = state.values
        _, height = state.size_of_own_box()
        high = values.height * max(0.0, height - 2 * values.gap)
        curve = min(high, 2 * values.bulge * high)
        colour = values.colour.lower()
        alpha = int(colour[7:9], 16) if len(colour) == 9 else 255
        faded = f"{colour[:7]}{round(alpha * values.fade):02x}"
        groups = self.layer(state, {"overflow": "hidden", **self.place(state, -values.gap)})
        groups[f"{selector_of(state.part)}::before"] = {
            "content": '""', "position": "absolute", "inset": "0 0 auto",
            "height": percent(values.height),
            "border-radius": f"0 0 50% 50% / 0 0 {px(curve)} {px(curve)}",
            "background": f"linear-gradient({colour}, {faded})",
        }
        return groups

    def strokes(self, state: PartState) -> Groups:
        values = state.values
        half = values.size / 2
        return self.layer(state, {
            "--colour": self.colour(state, "colour"), "inset": "auto",
            "left": span(values.position[0], -half), "top": span(values.position[1], -half),
            "width": px(values.size), "height": px(values.size), "fill": "none",
            "stroke": "var(--colour)",
            "stroke-width": self.ref(state, "thickness", number(values.thickness)),
            "stroke-linecap": "round", "stroke-linejoin": "round",
        })

    def shape(self, state: PartState) -> Groups:
        look, values = state.drawn, state.values
        if not isinstance(look, FillLook):
            return self.layer(state, {})
        outline, offset, (width, height) = look.outline, state.outline.offset, self.sheet.size
        paint, declared = self.paint(state, outline.width, outline.height)
        straight = "rotate" in state.drivers or values.style != "solid"
        if not straight and is_turned(values):
            # Its edges are drawn sharper than those of a shape that a browser turns.
            outline = turned_outline(outline, values, (
                offset[0] + values.pivot[0] * width, offset[1] + values.pivot[1] * height))
        return self.layer(state, declared | {
            "inset": "auto", "background": paint,
            "left": span(values.position[0], outline.x - offset[0] - values.position[0] * width),
            "top": span(values.position[1], outline.y - offset[1] - values.position[1] * height),
            "width": px(outline.width), "height": px(outline.height),
            "clip-path": polygon(outline),
        }, turned=straight)

    def lamp(self, state: PartState) -> Groups:
        declared, over = lamp(state, selector_of(state.part))
        return self.layer(state, declared) | over

    def label(self, state: PartState) -> Groups:
        driver = self.driver(state, "text")
        if driver is not None:
            self.properties.named(driver, kind="text")
        selector = selector_of(state.part)
        return self.layer(state, labels.declarations(self, state)) | labels.own_text(
            self, state, selector)

    def group(self, state: PartState) -> Groups:
        return self.layer(state, {})

    def picture(self, state: PartState, picture: BakedPicture | None) -> Groups:
        driver = state.drivers.get("picture")
        if driver is not None and driver.parameter:
            self.driver(state, "picture")
            self.properties.named(driver, kind="file")
        return self.layer(state, self._laid(picture), baked=True)

    def bake(self, state: PartState) -> BakedPicture | None:
        """A layer's picture, shown; what fades it and moves all layers is left to CSS."""
        changes: dict[str, Any] = {"visible": True, "opacity": 1.0}
        if state.part.kind == "lens":  # its rim alone
            changes |= {"move": (0.0, 0.0), "colour": "#00000000"}
        return self.sheet.picture([state.part], state.flags, still=True, **changes)

    def lens(self, state: PartState, picture: BakedPicture | None) -> Groups:
        values, look = state.values, state.drawn
        dx, dy = state.outline.offset
        declared = {"--colour": self.colour(state, "colour"), "background": "var(--colour)"}
        if look is not None and not is_round(values.outline or state.outline):
            # What lies behind is blurred within the outline alone, not in its whole box.
            declared |= clip(look.outline, self.sheet.size, (dx, dy))
        else:
            declared |= self.place(state, 0)
        if values.blur > 0:
            declared["backdrop-filter"] = f"blur({px(values.blur / 2)})"
        groups = self.layer(state, declared)
        rim = f"{selector_of(state.part)}::before"
        if picture is None or look is None:
            return groups | {rim: {"content": "none"}}
        x, y, width, height = picture.place
        left, top = x + dx - look.outline.x, y + dy - look.outline.y
        sides = (top, look.outline.width - left - width, look.outline.height - top - height, left)
        return groups | {rim: {"content": '""', "position": "absolute", "inset": " ".join(
            map(px, sides)), **self._sliced(picture)}}

    def _laid(self, picture: BakedPicture | None) -> Declarations:
        """A picture in nine slices, where it lies."""
        if picture is None:
            return {"visibility": "hidden"}
        x, y, width, height = picture.place
        across, down = self.sheet.size
        sx, sy, sw, sh = picture.follows
        if (sx, sy, sw, sh) == (0, 0, 1, 1):
            lies = {"inset":
                    f"{px(y)} {px(across - x - width)} {px(down - y - height)} {px(x)}"}
        else:
            lies = {"inset": "auto", "left": span(sx, x - sx * across),
                    "top": span(sy, y - sy * down), "width": span(sw, width - sw * across),
                    "height": span(sh, height - sh * down)}
        return lies | self._sliced(picture)

    def _sliced(self, picture: BakedPicture) -> Declarations:
        left, top, right, bottom = picture.slices
        sources = ", ".join(
            f'url("data:image/webp;base64,{base64.b64encode(smaller(png)).decode()}") {density}x'
            for density, png in enumerate(picture.pngs, 1))
        return {"--picture": f"image-set({sources})", "border": "1px solid transparent",
                "border-image": f"var(--picture) {top} {right} {bottom} {left} fill / "
                                f"{top}px {right}px {bottom}px {left}px"}

    def layer(
        self, state: PartState, declared: Declarations, baked: bool = False, turned: bool = True
    ) -> Groups:
        """A layer's rule: what it is drawn by, and what all layers have; not ``turned`` where that
        is in what is declared.
        """
        values, part = state.values, state.part
        # What a hidden look embeds is hidden with it.
        shown = "inherit" if part.host else "visible"
        gone = declared.get("visibility") == "hidden"
        # What comes and goes fades, where the control moves at all.
        fades = self.sheet.moves and (gone or not values.visible)
        declared = declared | {
            "visibility": self.ref(state, "visible",
                                   shown if values.visible and not gone else "hidden",
                                   "visibility"),
            "opacity": self.ref(state, "opacity", "0" if fades else number(values.opacity)),
            "mix-blend-mode": values.blend,
        }
        if baked or part.kind == "label":
            x, y = "", ""
        else:
            x, y = (px(side) for side in values.move)
            x, y = answering.after_pointer(self.sheet, part, "move", (x, y))
        if x:
            declared["translate"] = f"{x} {y}"
            if fidelity.moves_by_fractions(part, "move"):
                declared["will-change"] = "translate"
        share = self.sheet.following.get(part.name)
        if share:
            x, _, y = declared.get("translate", "0px 0px").partition(" ")
            declared["translate"] = f"calc({x} + var(--grown, 0px) * {number(share)}) {y or '0px'}"
        if turned and not baked:
            declared |= self._turn(state)
        return {selector_of(part): declared}

    def _turn(self, state: PartState) -> Declarations:
        values = state.values
        turned = {
            "rotate": self.ref(state, "rotate", f"{number(values.rotate)}deg", "deg"),
            "scale": f"{number(values.scale[0])} {number(values.scale[1])}"}
        if turned == STILL:
            return turned
        if state.part.kind == "label":
            return turned | {"transform-origin": labels.pivot(self, state)}
        if state.part.kind == "look":
            across, down = map(percent, values.pivot)
            return turned | {"transform-origin": f"{across} {down}"}
        # The pivot is a spot of the control; the origin counts from the layer's own box.
        (width, height), (x, y) = self.sheet.size, self._corner(state)
        return turned | {
            "transform-origin": f"{px(values.pivot[0] * width - x)} "
                                f"{px(values.pivot[1] * height - y)}",
            "will-change": "transform",  # it is drawn straight, and then turned as a whole
        }

    def _corner(self, state: PartState) -> tuple[float, float]:
        """The top left of a layer's element in the control, in px, at the designed size."""
        values, (width, height) = state.values, self.sheet.size
        kind, look = state.part.kind, state.drawn
        dx, dy = state.outline.offset
        if kind == "light":
            return (float(round(values.position[0] * width - values.size / 2)),
                    float(round(values.position[1] * height - values.size / 2)))
        if kind == "icon":
            return (values.position[0] * width - values.size / 2,
                    values.position[1] * height - values.size / 2)
        own = getattr(values, "outline", None)
        free = not is_round(own or state.outline)
        area = getattr(look, "outer", None) or getattr(look, "outline", None)
        if (kind == "symbol" or (free and kind not in BLURRED)) and area is not None:
            return area.x - dx, area.y - dy
        grow = {"fill": lambda: values.expand, "line": lambda: line_band(values)[0],
                "gloss": lambda: -values.gap}.get(kind, lambda: 0.0)()
        if own is None:
            return -grow, -grow
        return (own.x[0] * width + own.x[1] - grow, own.y[0] * height + own.y[1] - grow)
