"""Drawings of ours in SVG, and Chromium's pictures of them."""

from __future__ import annotations

import base64
import json
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from mektel.core.drawings.icons import FILE as ICONS
from mektel.core.kit import Kit
from mektel.core.look import Margins, resolve
from mektel.core.look.look import moved
from mektel.core.paint import on_backdrop, render
from mektel.formats.svg import Imported
from tests.chromium import page_on, photograph

WIDTH, HEIGHT = 200, 100
HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100" viewBox="0 0 200 100">'
STOPS = '<stop offset="0" stop-color="#F0A35A"/><stop offset="1" stop-color="#7D2D18"/>'
FADE = ('<stop offset="0" stop-color="#FFF"/><stop offset=".6" stop-color="#3AA2A8"/>'
        '<stop offset="1" stop-color="#175A66" stop-opacity=".4"/>')
FACE = '<rect x="30" y="20" width="140" height="50" rx="9" fill="#2F8C93"/>'


def drawn(inside: str) -> bytes:
    return f"{HEAD}{inside}</svg>".encode()


def photographs(
    drawings: Sequence[bytes], folder: Path, size: tuple[int, int] = (WIDTH, HEIGHT),
    finer: int = 1,
) -> list[NDArray[np.uint8]]:
    """Chromium's picture of each at 2× on white, (height, width, 3); their ids stay apart.

    Chromium gives edges a few steps only. Where there is little but edges, it draws ``finer``, and
    its pixels are averaged.
    """
    scale = 2 * finer
    (width, height), columns = size, max(5, 480 // size[0])
    rows = -(-len(drawings) // columns)
    images = "".join(
        f"<img style='position:absolute;left:{at % columns * width}px;"
        f"top:{at // columns * height}px' width={width} height={height} "
        f"src='data:image/svg+xml;base64,{base64.b64encode(drawing).decode()}'>"
        for at, drawing in enumerate(drawings))
    with page_on(f"<body style='margin:0;background:#fff'>{images}", folder, scale,
                 (columns * width, rows * height), exact=finer == 1) as page:
        whole = photograph(page)
    if finer > 1:
        high, wide = (side // finer for side in whole.shape[:2])
        whole = np.rint(whole.reshape(high, finer, wide, finer, 3).mean(axis=(1, 3))).astype(
            np.uint8)
    width, height = width * 2, height * 2
    return [whole[at // columns * height : (at // columns + 1) * height,
                  at % columns * width : (at % columns + 1) * width]
            for at in range(len(drawings))]


def picture_of(made: Imported, size: tuple[int, int], scale: int = 2) -> NDArray[np.uint8]:
    """An imported control on white, where the drawing has it."""
    look = resolve(Kit(controls=(made.control,), assets=made.pictures), made.control)
    placed = replace(look, width=float(size[0]), height=float(size[1]), layers=tuple(
        moved(layer, made.box[0], made.box[1]) for layer in look.layers))
    rgba = render(placed, scale, Margins()).rgba
    return on_backdrop(rgba, (1, 1, 1, 1))[:, :, :3]


def icon_drawings(every: int) -> dict[str, bytes]:
    """Some of the shipped icons as drawings with strokes."""
    icons = json.loads(ICONS.read_text(encoding="utf-8"))
    return {name: (
        '<svg xmlns="http://www.w3.org/2000/svg" width="24" height="24" viewBox="0 0 24 24" '
        'fill="none" stroke="#22302F" stroke-width="2" stroke-linecap="round" '
        'stroke-linejoin="round">' + "".join(f'<path d="{path}"/>' for path in icons[name]["paths"])
        + "</svg>").encode() for name in sorted(icons)[::every]}


# What each says is drawn in layers or, where no layer can, as a picture.
WHOLE = {
    "shapes beside a face": FACE + """<circle cx="50" cy="45" r="12" fill="#F3C25B"/>
        <path d="M80 30l12 20h-24z" fill="#fff"/><ellipse cx="120" cy="45" rx="18" ry="9"
        fill="#0E454E"/><polygon points="140,32 160,40 152,60" fill="tomato"/>""",
    "curves": FACE + """<path d="M40 60C60 10 80 80 100 35S150 20 160 60Q120 50 100 62T40 60Z"
        fill="#F3C25B"/>""",
    "a hole by even and odd": FACE + """<path fill-rule="evenodd" fill="#fff"
        d="M60 25h60v40h-60zM75 32a13 13 0 1 0 26 0a13 13 0 1 0 -26 0z"/>""",
    "a star by even and odd": FACE + """<path fill-rule="evenodd" fill="#fff"
        d="M100 24L112 62L82 38H118L88 62Z"/>""",
    "a star by winding": FACE + '<path fill="#fff" d="M100 24L112 62L82 38H118L88 62Z"/>',
    "open lines with caps": FACE + """<g fill="none" stroke="#fff" stroke-width="5">
        <path d="M40 32H80" stroke-linecap="round"/><path d="M40 45H80" stroke-linecap="square"/>
        <path d="M40 58H80"/><polyline points="100,60 115,30 130,60 145,30"/></g>""",
    "joins": FACE + """<g fill="none" stroke="#0E454E" stroke-width="6"><path
        d="M40 60L55 30L70 60"/><path d="M80 60L95 30L110 60" stroke-linejoin="round"/><path
        d="M120 60L135 30L150 60" stroke-linejoin="bevel"/></g>""",
    "a sharp join beyond the limit": FACE + """<path d="M60 58L64 30L68 58M90 58L94 30L98 58"
        fill="none" stroke="#fff" stroke-width="4" stroke-miterlimit="3"/>""",
    "dashes": FACE + """<path d="M40 35H160M40 55C80 30 120 70 160 45" fill="none" stroke="#fff"
        stroke-width="3" stroke-dasharray="9 4 2 4" stroke-dashoffset="3"/>""",
    "round dots": FACE + """<path d="M40 45H160" stroke="#F3C25B" stroke-width="6"
        stroke-linecap="round" stroke-dasharray="0 12"/>""",
    "a dashed box": """<rect x="30" y="20" width="140" height="50" rx="9" fill="#E9E2D3"
        stroke="#B8472A" stroke-width="4" stroke-dasharray="10 6"/>""",
    "a turned shape": FACE + """<rect x="85" y="30" width="30" height="30" rx="4" fill="#F3C25B"
        transform="rotate(30 100 45)"/>""",
    "slanted and scaled": FACE + """<g transform="matrix(1 .2 -.4 1.2 40 -20)"><rect x="60" y="30"
        width="40" height="20" rx="6" fill="#F3C25B" stroke="#fff" stroke-width="3"/></g>""",
    "an unevenly scaled stroke": FACE + """<g transform="translate(100 45) scale(3 1)"><circle
        r="14" fill="none" stroke="#fff" stroke-width="4"/></g>""",
    "a stroke that does not scale": FACE + """<g transform="translate(100 45) scale(3 1)"><circle
        r="14" fill="none" stroke="#fff" stroke-width="4" vector-effect="non-scaling-stroke"/>
        </g>""",
    "groups in groups": """<g transform="translate(10 5)" fill="#2F8C93"><g
        transform="translate(20 15)"><rect width="140" height="50" rx="9"/><g fill="#fff"
        transform="scale(.5)"><circle cx="40" cy="50" r="20"/></g></g></g>""",
    "use": """<defs><circle id="lamp" r="8"/></defs>""" + FACE + """<use href="#lamp" x="60" y="45"
        fill="#fff"/><use href="#lamp" x="100" y="45" fill="#F3C25B"/><use href="#lamp" x="50"
        y="16" transform="scale(2)" opacity=".5"/>""",
    "a symbol": """<symbol id="flag" viewBox="0 0 10 10"><path d="M0 0L10 5L0 10Z"
        fill="#F3C25B"/></symbol>""" + FACE + """<use href="#flag" x="50" y="30" width="30"
        height="30"/><use href="#flag" x="110" y="25" width="40" height="20"/>""",
    "a drawing in a drawing": FACE + """<svg x="60" y="25" width="80" height="40" viewBox="0 0 20
        20" preserveAspectRatio="xMinYMid slice"><circle cx="10" cy="10" r="9"
        fill="#F3C25B"/></svg>""",
    "style by class and place": """<style>.deck rect{fill:#2F8C93} g>circle.lamp,#x{fill:#F3C25B}
        circle[r="5"]{fill:#fff!important}</style><g class="deck"><rect x="30" y="20" width="140"
        height="50" rx="9"/><circle class="lamp" cx="60" cy="45" r="12"/><circle class="lamp"
        cx="100" cy="45" r="5"/><circle id="x" cx="140" cy="45" r="9" fill="red"/></g>""",
    "a radial gradient": f"""<radialGradient id="g" cx=".3" cy=".4" r=".8">{STOPS}
        </radialGradient><rect x="30" y="20" width="140" height="50" rx="9" fill="url(#g)"/>""",
    "a radial gradient in units": f"""<radialGradient id="g" cx="100" cy="30" r="60"
        gradientUnits="userSpaceOnUse" gradientTransform="translate(0 10) scale(1 .7)">{FADE}
        </radialGradient><rect x="30" y="20" width="140" height="50" rx="9" fill="url(#g)"/>""",
    "a radial gradient with a focus": f"""<radialGradient id="g" fx=".25" fy=".3">{STOPS}
        </radialGradient>{FACE}<circle cx="100" cy="45" r="20" fill="url(#g)"/>""",
    "a turned radial gradient": f"""<radialGradient id="g" cx="100" cy="45" r="25"
        gradientUnits="userSpaceOnUse" gradientTransform="rotate(30 100 45) translate(100 45)
        scale(1.6 .6) translate(-100 -45)">{FADE}</radialGradient>{FACE}<path
        d="M50 25h100v40h-100z" fill="url(#g)"/>""",
    "a gradient that repeats": f"""<linearGradient id="g" x1="0" x2=".2" spreadMethod="repeat">
        {STOPS}</linearGradient><linearGradient id="h" x1=".4" x2=".6" spreadMethod="reflect">
        {FADE}</linearGradient><rect x="30" y="20" width="140" height="50" rx="9"
        fill="url(#g)"/><rect x="50" y="30" width="100" height="30" fill="url(#h)"/>""",
    "a gradient on a line": f"""<linearGradient id="g">{STOPS}</linearGradient><rect x="33" y="23"
        width="134" height="44" rx="9" fill="#E9E2D3" stroke="url(#g)" stroke-width="6"/><path
        d="M60 55L100 35L140 55" fill="none" stroke="url(#g)" stroke-width="6"/>""",
    "a gradient on a path": f"""<linearGradient id="g" x2="0" y2="1">{FADE}</linearGradient>{FACE}
        <path d="M60 60C60 20 140 20 140 60Z" fill="url(#g)"/>""",
    "a clip": """<clipPath id="c"><circle cx="100" cy="45" r="22"/></clipPath>""" + FACE + """<g
        clip-path="url(#c)"><rect x="60" y="20" width="80" height="25" fill="#F3C25B"/><path
        d="M60 45h80v30h-80z" fill="#fff"/></g>""",
    "a clip in shares of a box": """<clipPath id="c" clipPathUnits="objectBoundingBox"><path
        d="M.5 0L1 1H0Z"/></clipPath>""" + FACE + """<rect x="60" y="25" width="60" height="40"
        fill="#F3C25B" clip-path="url(#c)"/>""",
    "a clip of a gradient": f"""<linearGradient id="g">{STOPS}</linearGradient><clipPath id="c">
        <rect x="80" y="0" width="50" height="100"/></clipPath>{FACE}<rect x="40" y="25"
        width="120" height="40" rx="6" fill="url(#g)" clip-path="url(#c)"/>""",
    "a soft mask": """<linearGradient id="m"><stop stop-color="#fff"/><stop offset="1"/>
        </linearGradient><mask id="k"><rect x="30" y="20" width="140" height="50"
        fill="url(#m)"/></mask>""" + FACE + """<g mask="url(#k)"><circle cx="60" cy="45" r="20"
        fill="#F3C25B"/><path d="M90 30h60v30h-60z" fill="#fff"/></g>""",
    "a white mask": """<mask id="k" fill="#fff"><path d="M50 30h100v30h-100z"/>
        </mask>""" + FACE + """<g mask="url(#k)"><circle cx="100" cy="45" r="30"
        fill="#F3C25B"/></g>""",
    "a fading group of one": FACE + """<g opacity=".5"><circle cx="60" cy="45" r="18"
        fill="#fff"/><circle cx="120" cy="45" r="18" fill="#F3C25B"/></g>""",
    "a fading group that overlaps": FACE + """<g opacity=".6"><circle cx="80" cy="45" r="20"
        fill="#fff"/><circle cx="105" cy="45" r="20" fill="#B8472A"/></g>""",
    "a fading box with a line": FACE + """<rect x="60" y="30" width="80" height="30" rx="6"
        fill="#fff" stroke="#0E454E" stroke-width="4" opacity=".5"/>""",
    "a blend mode": FACE + """<circle cx="80" cy="45" r="22" fill="#F3C25B"
        style="mix-blend-mode:multiply"/><circle cx="120" cy="45" r="22" fill="#F3C25B"
        style="mix-blend-mode:screen"/>""",
    "a shape blurred by a filter": """<filter id="b" x="-.5" y="-.5" width="2"
        height="2"><feGaussianBlur stdDeviation="3"/></filter>""" + FACE + """<circle cx="100"
        cy="45" r="14" fill="#F3C25B" filter="url(#b)"/>""",
    "colours by a matrix": """<filter id="b" color-interpolation-filters="sRGB"><feColorMatrix
        type="saturate" values=".2"/></filter>""" + FACE + """<g filter="url(#b)"><circle cx="80"
        cy="45" r="16" fill="#F3C25B"/><circle cx="120" cy="45" r="16" fill="tomato"/></g>""",
    "hue and levels": """<filter id="b"><feColorMatrix type="hueRotate" values="90"/>
        <feComponentTransfer><feFuncR type="gamma" exponent="2"/><feFuncG type="linear"
        slope=".8"/></feComponentTransfer></filter>""" + FACE + """<circle cx="100" cy="45" r="18"
        fill="#F3C25B" filter="url(#b)"/>""",
    "two shadows of one group": """<filter id="s" x="-.5" y="-.5" width="2" height="2"
        color-interpolation-filters="sRGB"><feDropShadow dx="0" dy="2" stdDeviation="1"
        flood-opacity=".5"/></filter>""" + FACE + """<g filter="url(#s)"><circle cx="80" cy="45"
        r="14" fill="#fff"/><path d="M110 33h30v24h-30z" fill="#fff"/></g>""",
    "a shadow that shows through": """<filter id="s" x="-.5" y="-.5" width="2" height="2"
        color-interpolation-filters="sRGB"><feDropShadow dx="4" dy="6" stdDeviation="3"/>
        </filter><rect x="30" y="20" width="140" height="50" rx="9" fill="#2F8C9380"/><circle
        cx="100" cy="45" r="16" fill="#fff" fill-opacity=".4" filter="url(#s)"/>""",
    "an outline by morphology": """<filter id="s" x="-.2" y="-.2" width="1.4" height="1.4"
        color-interpolation-filters="sRGB"><feMorphology in="SourceAlpha" operator="dilate"
        radius="3" result="m"/><feFlood flood-color="#fff"/><feComposite in2="m" operator="in"/>
        <feMerge><feMergeNode/><feMergeNode in="SourceGraphic"/></feMerge></filter>""" + FACE + """
        <path d="M80 55L100 30L120 55Z" fill="#B8472A" filter="url(#s)"/>""",
    "a free outline": """<path d="M40 45L60 20H150L170 45L150 70H60Z" fill="#175A66"/><path
        d="M70 45h60" stroke="#fff" stroke-width="4"/>""",
    "a free outline with a shadow": """<filter id="s" x="-.2" y="-.4" width="1.4" height="2"
        color-interpolation-filters="sRGB"><feDropShadow dx="0" dy="4" stdDeviation="4"
        flood-opacity=".5"/></filter><path d="M40 45L60 20H150L170 45L150 70H60Z" fill="#F3C25B"
        filter="url(#s)"/>""",
    "lines only": """<g fill="none" stroke="#22302F" stroke-width="4" stroke-linecap="round"
        stroke-linejoin="round"><path d="M40 20h120v50h-120z"/><path d="M60 45h30l10-15 10 30
        10-15h20"/></g>""",
    "a line in front of its fill": FACE + """<path d="M70 60L100 28L130 60Z" fill="#F3C25B"
        stroke="#fff" stroke-width="5" stroke-linejoin="round" paint-order="stroke"/>""",
    "a view box that scales": """<svg viewBox="0 0 400 200"><rect x="60" y="40" width="280"
        height="100" rx="18" fill="#2F8C93"/><circle cx="120" cy="90" r="24" fill="#fff"/></svg>""",
    "percentages and units": """<rect x="15%" y="20" width="140" height="50" rx="9" fill="#2F8C93"/>
        <rect x=".5in" y="30" width="1cm" height="20pt" fill="#fff"/>""",
    "current colour": """<g color="#B8472A" fill="currentColor"><rect x="30" y="20" width="140"
        height="50" rx="9"/><circle cx="60" cy="45" r="10" fill="none" stroke="currentColor"/>
        <circle cx="100" cy="45" r="10" fill="#fff" stroke="currentColor" stroke-width="3"/></g>""",
    "thin lines": FACE + """<path d="M40 30.5h120M40 40h120M40.5 50v14" stroke="#fff"
        stroke-width="1"/><path d="M60 58h90" stroke="#fff" stroke-width=".5"/>""",
    "an ellipse with a line": """<ellipse cx="100" cy="45" rx="68" ry="24" fill="#F3C25B"
        stroke="#7D2D18" stroke-width="4"/>""",
    "elliptical corners": """<rect x="30" y="20" width="140" height="50" rx="30" ry="12"
        fill="#2F8C93" stroke="#0E454E" stroke-width="3"/>""",
    "arcs": FACE + """<path d="M60 45A20 12 20 1 1 90 52M110 35A18 18 0 0 1 146 35" fill="none"
        stroke="#fff" stroke-width="4"/>""",
    "many small things": FACE + "".join(
        f'<circle cx="{40 + at % 20 * 6}" cy="{26 + at // 20 * 9}" r="2" fill="#fff"/>'
        for at in range(100)),
    "visibility": FACE + """<g visibility="hidden"><circle cx="60" cy="45" r="20"/><circle cx="100"
        cy="45" r="10" fill="#fff" visibility="visible"/></g><circle cx="130" cy="45" r="9"
        display="none"/>""",
    "a picture": FACE + """<image x="80" y="25" width="40" height="40" href="data:image/png;base64,
        iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAYAAABytg0kAAAAFklEQVR4nGP4/Jv7/+nN//8zIDEAajgMSyyo
        hZQAAAAASUVORK5CYII="/>""",
}
