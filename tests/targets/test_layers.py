"""Every layer kind, outline and paint, run in Qt and Chromium and compared with our picture."""

from __future__ import annotations

import base64
import io

import numpy as np
import pytest
from PIL import Image

from mektel.core.kit import (
    KINDS,
    Area,
    Asset,
    Bevel,
    Control,
    ControlOutline,
    EmbeddedLook,
    Fill,
    Gloss,
    Glow,
    Icon,
    InnerGlow,
    InnerShadow,
    Join,
    Kit,
    Label,
    Lens,
    Light,
    Line,
    OwnOutline,
    Picture,
    Progress,
    Shadow,
    Stop,
    Symbol,
)
from mektel.targets import TARGETS
from mektel.targets.verify import verify
from tests.slices import count_of, some_of

RAMP = (Stop(position=0, colour="#FFD27A"), Stop(position=0.5, colour="#B8472A"),
        Stop(position=1, colour="#2A1A40"))
FACE = Fill(id="face", name="Face")


def picture() -> Asset:
    pixels = np.zeros((40, 40, 4), np.uint8)
    pixels[5:35, 5:35] = (200, 60, 40, 255)
    pixels[15:25, 15:25] = 255
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return Asset(id="art", name="Art", png=base64.b64encode(out.getvalue()).decode())


def named(kind: type, **values: object) -> object:
    return kind(id="it", name="It", **values)


CASES: list[tuple[list[object], dict[str, object]]] = [
    ([named(Fill, style="radial", stops=RAMP)], {}),
    ([named(Fill, style="conic", stops=RAMP, direction=40, centre=(0.3, 0.6))], {}),
    ([named(Fill, style="conic", stops=RAMP[:2], spread="repeat")], {}),
    ([named(Fill, style="linear", stops=RAMP, spread="repeat", ends=(0, 0, 0.2, 0.2))], {}),
    ([named(Fill, style="linear", stops=RAMP, spread="mirror", ends=(0, 0, 0.2, 0))], {}),
    ([named(Fill, style="linear", stops=RAMP, mixing="oklab", direction=90)], {}),
    ([FACE, named(Line, width=4, style="linear", direction=90, stops=RAMP)], {}),
    ([FACE, named(Line, width=3, dash=8)], {}),
    ([FACE], {"form": "superellipse"}),
    ([FACE, named(Line, width=3)], {"form": "star", "rounding": 4}),
    ([named(Shadow), FACE], {"form": "polygon", "points": 6, "rounding": 6}),
    ([FACE, named(InnerShadow, colour="#000000AA", blur=8, offset=(0, 4))], {"form": "notch"}),
    ([FACE, named(Glow)], {"form": "cut"}),
    ([FACE], {"corners": (30, 4, 18, 8), "vertical_radii": (12, 20, 6, 30), "opacity": 0.6}),
    ([FACE], {"joins": (
        Join(operation="smooth", form="ellipse", x=(0.5, 0), y=(0.4, 0), width=(0.6, 0),
             softness=20),
        Join(operation="difference", form="ellipse", x=(0.1, 0), width=(0.2, 0),
             height=(0.5, 0)))}),
    ([FACE, named(Bevel)], {}),
    ([FACE, named(Gloss)], {}),
    ([FACE, named(Gloss, bulge=-0.3)], {}),
    ([FACE, named(Glow), InnerGlow(id="in", name="In")], {}),
    ([FACE, named(Lens)], {}),
    ([named(Picture, picture="art", fit="slices", tint=0.4, edge=2)], {}),
    ([FACE, named(Symbol, symbol="gear", repeat=3)], {}),
    ([FACE, named(Icon, icon="anchor", size=40)], {}),
    ([FACE, named(Light, size=20)], {}),
    ([FACE, named(Progress, amount=0.6)], {}),
    ([FACE, named(Fill, style="solid", colour="#FF8800", blend="difference", rotate=30,
                  outline=OwnOutline(form="ellipse", width=(0.5, 0), x=(0.25, 0)))], {}),
    ([FACE, named(Fill, colour="#B8472A", blend="hue", opacity=0.7)], {}),
    ([FACE, named(Label, size=26, edge=2, relief="raised", shadow_colour="#000000AA")], {}),
    ([FACE, named(Label, style="linear", size=30, stops=RAMP)], {}),
    ([FACE, named(Label, flow="fit", size=60)], {}),
    ([FACE, named(Label, flow="wrap", family="Rubik", line_height=1.3)], {}),
    ([FACE, named(Label, spacing=3, case="capitals", rotate=-12, scale=(1.2, 1.1))], {}),
    ([FACE, named(Label, text="Own words", rotate=8, style="linear", stops=RAMP, align="end",
                  box=Area(x=(0.4, 0), width=(0.5, 0), height=(0.6, 0)))], {}),
    ([FACE, named(EmbeddedLook, control="case-23", rotate=8, scale=(0.7, 0.8), opacity=0.8)], {}),
    ([FACE, named(EmbeddedLook, control="case-10", blend="multiply", width=90, height=40)], {}),
    ([FACE, named(EmbeddedLook, control="case-17", position=(1, 0), move=(-40, 30), width=60)], {}),
    ([FACE, named(EmbeddedLook, control="case-33", rotate=-20)], {"offset": (3, 2)}),
    # A layer that is turned, in a look that is moved.
    ([FACE, named(EmbeddedLook, control="case-25", move=(14, 6))], {}),
]


def kit() -> Kit:
    controls = []
    for at, (layers, body) in enumerate(CASES):
        text = "שלום עולם כפתור גדול מאוד" if any(
            getattr(layer, "family", "") == "Rubik" for layer in layers) else "Cast off"
        controls.append(Control(
            id=f"case-{at}", name=f"Case {at}", text=text, size=(160, 64), layers=layers,
            outline=ControlOutline(**{"corners": (16,) * 4, **body}),
            states={"hover": {"outline": {"offset": (0, -2)}}, "disabled": {layers[0].id: {
                "opacity": 0.5}}},
        ))
    return Kit(assets=(picture(),), controls=tuple(controls))


def test_every_kind_is_among_the_cases() -> None:
    assert {layer.kind for layers, _ in CASES for layer in layers} == set(KINDS)


@pytest.mark.parametrize("name", ["qtwidgets", "web"])
def test_every_kind_runs_as_designed(name: str) -> None:
    made, target = kit(), TARGETS[name]
    worst = {}
    # A state of one layer fades it; the sweep changes all else. Every third one is tried in it.
    only = {control.id: ("rest",) if at % 3 else ("rest", "disabled")
            for at, control in enumerate(made.controls)}
    # One half in Qt, the other half on the web.
    chosen = some_of(made.controls, 2, int(name == "web"))
    for match in verify(made, chosen, target, scale=count_of(1, 2), only=only):
        case = CASES[int(match.control.split("-")[1])]
        assert match.passes, (match.as_data(), case)
        bare = match.without_text or match.with_text
        worst[match.control] = max(worst.get(match.control, 0.0), bare.mean)
    print(name, f"worst {max(worst.values()):.2f}, mean {np.mean(list(worst.values())):.2f}")
    # What is said to be native is not a picture in the files, and the other way round.
    for control in made.controls:
        # Of what is partly native only a lens needs one, for its rim.
        baked = any(plan.how == "baked" or (plan.how == "partly" and "rim" in plan.why)
                    for plan in target.plan(made, control))
        files = target.files(made, [control])
        if name == "web":
            assert (b"data:image/webp" in files[0].content) == baked
        elif name == "qtwidgets":
            assert any(file.path.parts[0] == "pictures" for file in files) == baked


def test_qt_blends_it_cannot_do_take_what_lies_beneath_along() -> None:
    made = kit()
    control = next(c for c in made.controls if any(la.blend == "hue" for la in c.layers))
    plans = TARGETS["qtwidgets"].plan(made, control)
    assert [plan.how for plan in plans] == ["baked", "baked"] and "hue" in plans[1].why
