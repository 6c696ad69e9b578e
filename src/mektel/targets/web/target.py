"""Web: a standard custom element around a real ``<button>``, with CSS for every state."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path, PurePosixPath
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from markupsafe import Markup, escape

from mektel.core.kit import (
    OUTLINE,
    Control,
    Fill,
    Kit,
    Label,
    Lens,
    Line,
    combined_states,
    states_of,
)
from mektel.core.look import settled
from mektel.core.look.holding import MARK
from mektel.core.look.layout import following_text
from mektel.core.look.parts import line_band
from mektel.targets.base import (
    LayerPlan,
    OutFile,
    Progress,
    Shot,
    Taken,
    camel,
    font_files,
    with_lost,
)
from mektel.targets.driven import shipped
from mektel.targets.members import members
from mektel.targets.web.css import control_css
from mektel.targets.web.driving import (
    SIZES,
    helpers,
    properties,
    required_attributes,
    text_source,
)
from mektel.targets.web.fonts import font_faces
from mektel.targets.web.labels import loses_gradient
from mektel.targets.web.layers import baked_reason, icon_svg
from mektel.targets.web.literals import literal, one_line, template
from mektel.targets.web.outlines import is_round
from mektel.targets.web.runner import shoot_in_chromium


class Web:
    id = "web"
    title = "Web element"
    summary = "A custom element per control, plain JavaScript and CSS"
    taken = members(Path(__file__).parent / "members.txt")
    combines = True

    def own_files(self, control: Control) -> list[str]:
        return [str(self.main_file(control))]

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        kept, control = shipped(kit, control), settled(kit, control)
        _, lost = properties(control, kept)
        return with_lost(self._plan(kit, control), control, [*lost, *kept.lost])

    def _plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        shapes = {control.part_in(OUTLINE, {state}).form for state in ("rest", *control.states)}
        radii = {control.part_in(OUTLINE, {state}).radii for state in ("rest", *control.states)}
        joined = len(shapes) > 1 or len(radii) > 1
        plans = []
        for layer in control.layers:
            why = baked_reason(control, layer.id)
            if why:
                plans.append(LayerPlan(layer.name, "baked", why))
                continue
            if isinstance(layer, Lens):
                plans.append(LayerPlan(
                    layer.name, "partly", "blur is native, tint and rim are a picture; CSS cannot "
                    "bend what lies behind", differs=True))
                continue
            if isinstance(layer, Label) and any(
                    loses_gradient(control.part_in(layer.id, flags))
                    for flags in combined_states(control.behaviour)):
                plans.append(LayerPlan(
                    layer.name, "partly", "letters with a line round them take one colour",
                    differs=True))
                continue
            if not _edges_are_whole(control, layer.id):
                why = "browsers move its edges to whole pixels"
            elif joined and layer.kind != "label":
                why = "where states with different corners join, the later one's hold"
            elif layer.kind in ("fill", "line") and not is_round(
                getattr(layer, "outline", None) or control.outline
            ):
                why = "its outline stretches with the control"
            plans.append(LayerPlan(layer.name, "native", why))
        return plans

    def tag(self, control: Control) -> str:
        return control.id if control.id.endswith("-button") else f"{control.id}-button"

    def main_file(self, control: Control) -> PurePosixPath:
        return PurePosixPath(f"{self.tag(control)}.js")

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        chosen = list(controls)
        files = [
            OutFile(self.main_file(control), self._module(kit, control).encode(), "javascript")
            for control in chosen
        ]
        page = _environment().get_template("demo.html.j2").render(
            kit=kit.name,
            controls=[
                {"file": str(self.main_file(c)), "tag": self.tag(c), "text": c.text,
                 "attributes": required_attributes(kit, c)}
                for c in chosen
            ],
        )
        files.append(OutFile(PurePosixPath("index.html"), page.encode(), "html"))
        return files + font_files([settled(kit, one) for one in chosen], PurePosixPath("fonts"))

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        tag = self.tag(control)
        return (
            f'<script src="{self.main_file(control)}"></script>\n\n'
            f'<{tag} id="{control.id}"{required_attributes(kit, control)}>'
            f"{escape(control.text)}</{tag}>\n"
            f"<script>\n"
            f"  document.getElementById(\"{control.id}\").addEventListener(\"click\", act);\n"
            f"</script>\n",
            "html",
        )

    def _module(self, kit: Kit, control: Control) -> str:
        kept, control = shipped(kit, control), settled(kit, control)
        driven, _ = properties(control, kept)
        labels = [layer.id for layer in control.layers
                  if isinstance(layer, Label) and layer.text is None]
        fitted = [layer for layer in control.layers if isinstance(layer, Label)
                  and layer.text is None and layer.flow == "fit"]
        following, text_width, _ = following_text(control, control.text)
        name = camel(self.tag(control))
        return _environment().get_template("element.js.j2").render(
            headline=one_line(f"{control.name}: a push button of the kit {kit.name}."),
            file=self.main_file(control),
            tag=self.tag(control),
            class_name=name,
            text=control.text,
            name=control.name,
            text_comment=one_line(str(escape(control.text))),
            parts=[layer.id for layer in control.layers],
            css=control_css(kit, control, driven),
            layers=_elements(control, labels[0] if labels else ""),
            shaped=not is_round(control.outline),
            fits=next((one.id for one in fitted), ""),
            fonts=font_faces(control),
            kind=control.behaviour,
            text_part=labels[0] if labels and following else "",
            text_width=round(text_width, 3),
            driven=list({one.name: one for one in driven}.values()),
            parameters=[one for one in kept.parameters if one.name != "text"],
            text_required=any(one.name == "text" and one.required for one in kept.parameters),
            text_source=text_source(kept),
            helpers=helpers() if driven or text_source(kept) else "",
            palette=kept.palette,
            schemes=kept.schemes,
            in_parent=any(one.names & {"parent_width", "parent_height"} for one in kept.values),
            sized=any(one.names & set(SIZES) for one in kept.values),
            checkable="checked" in states_of(control.behaviour),
        )

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        return shoot_in_chromium(kit, shots, folder, backdrop, progress, self)


def _elements(control: Control, text_part: str) -> list[dict[str, Any]]:
    """The layers' elements, each with how many that hold it end after it."""
    found = []
    ids = [layer.id for layer in control.layers]
    for layer, after in zip(control.layers, [*ids[1:], ""], strict=False):
        inside = [one.id for one in control.layers if one.kind == "look"
                  and (layer.id == one.id or layer.id.startswith(one.id + MARK))]
        text = layer.text if isinstance(layer, Label) else None
        found.append({
            "id": layer.id, "holds_text": layer.id == text_part, "holds": layer.kind == "look",
            "svg": icon_svg(control, layer) if text is None else Markup(
                "<span>{}</span>").format(text),
            "ends": sum(not after.startswith(one + MARK) for one in inside)})
    return found


def _edges_are_whole(control: Control, layer_id: str) -> bool:
    """Whether a layer's box is grown by whole px in every state."""
    for state in ("rest", *control.states):
        part = control.part_in(layer_id, {state})
        if isinstance(part, Fill):
            grown = part.grow
        elif isinstance(part, Line):
            grown, _ = line_band(part)
        else:
            continue
        if not float(grown).is_integer():
            return False
    return True


@lru_cache(maxsize=1)
def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent), undefined=StrictUndefined,
        keep_trailing_newline=True, trim_blocks=True, lstrip_blocks=True,
        autoescape=lambda name: bool(name and ".html" in name),
    )
    environment.filters |= {"js": literal, "line": one_line, "template": template}
    return environment
