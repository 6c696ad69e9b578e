"""Drawings with patterns, markers, turned pictures and letters, and gradients that no layer has."""

from __future__ import annotations

import base64
import io

from PIL import Image, ImageDraw

from tests.conftest import ROOT
from tests.drawings import FACE, STOPS


def _flag() -> str:
    """A small picture as a data: URL."""
    picture = Image.new("RGBA", (40, 24), "#E9E2D3")
    draw = ImageDraw.Draw(picture)
    draw.rectangle((0, 0, 19, 11), fill="#2F8C93")
    draw.ellipse((22, 8, 36, 22), fill="#B8472A")
    out = io.BytesIO()
    picture.save(out, "PNG")
    return f"data:image/png;base64,{base64.b64encode(out.getvalue()).decode()}"


FLAG = _flag()
BOX = '<rect x="30" y="20" width="140" height="50" rx="9" fill="url(#p)"/>'
PATH = 'd="M30 70 L70 30 L110 60 C130 80 150 10 175 45" fill="none" stroke="#175A66"'
HEAD = ('<path d="M0 0 L6 3 L0 6 Z" fill="#B8472A"/>')

PAINTED = {
    "dots": '<pattern id="p" width="10" height="10" patternUnits="userSpaceOnUse"><rect width="10" '
            'height="10" fill="#E9E2D3"/><circle cx="5" cy="5" r="3" fill="#2F8C93"/></pattern>'
            + BOX,
    "stripes, turned": '<pattern id="p" width="8" height="8" patternUnits="userSpaceOnUse" '
                       'patternTransform="rotate(35)"><rect width="4" height="8" fill="#B8472A"/>'
                       '</pattern>' + FACE + BOX,
    "a tile with a corner": '<pattern id="p" x="7" y="3" width="20" height="14" patternUnits='
                            '"userSpaceOnUse"><rect x="2" y="2" width="12" height="8" '
                            'fill="#175A66"/></pattern>' + BOX,
    "a tile in box units": '<pattern id="p" width=".25" height=".5" patternContentUnits='
                           '"objectBoundingBox"><circle cx=".12" cy=".2" r=".1" fill="#7D2D18"/>'
                           '</pattern>' + BOX,
    "a tile with a view box": '<pattern id="p" width="30" height="20" patternUnits="userSpaceOnUse"'
                              ' viewBox="0 0 10 10"><path d="M0 10L5 0L10 10Z" fill="#E5A43B"/>'
                              '</pattern>' + BOX,
    "a tile from another": '<pattern id="a" width="12" height="12" patternUnits="userSpaceOnUse">'
                           '<path d="M0 0H6V6H12V12H6V6H0Z" fill="#3AA2A8"/></pattern><pattern '
                           'id="p" href="#a" patternTransform="scale(1.5)"/>' + BOX,
    "a tile cut off": '<pattern id="p" width="16" height="16" patternUnits="userSpaceOnUse">'
                      '<circle cx="0" cy="0" r="10" fill="#2F8C93" fill-opacity=".6"/></pattern>'
                      + BOX,
    "a stroke with a pattern": '<pattern id="p" width="6" height="6" patternUnits="userSpaceOnUse">'
                               '<rect width="3" height="6" fill="#B8472A"/></pattern><rect x="34" '
                               'y="24" width="132" height="42" rx="9" fill="#E9E2D3" '
                               'stroke="url(#p)" stroke-width="8" stroke-opacity=".8"/>',
    "a pattern of a shape that is used": '<defs><circle id="c" r="3" fill="#7D2D18"/><pattern '
                                         'id="p" width="9" height="9" patternUnits="userSpaceOnUse"'
                                         '><use href="#c" x="4" y="4"/></pattern></defs>' + BOX,
    "a pattern in a group that is scaled": '<pattern id="p" width="5" height="5" patternUnits='
                                           '"userSpaceOnUse"><rect width="2.5" height="2.5" '
                                           'fill="#175A66"/></pattern><g transform="translate(10 '
                                           '10) scale(1.5)"><rect x="10" y="5" width="90" '
                                           'height="40" fill="url(#p)"/></g>',
    "arrows at both ends": f'<marker id="m" markerWidth="6" markerHeight="6" refX="3" refY="3" '
                           f'orient="auto-start-reverse">{HEAD}</marker><path {PATH} '
                           'stroke-width="2" marker-start="url(#m)" marker-end="url(#m)"/>',
    "heads in their line's colour": '<marker id="m" markerWidth="6" markerHeight="6" refX="3" '
                                    'refY="3" orient="auto"><path d="M0 0L6 3L0 6Z" '
                                    'fill="context-stroke" stroke="context-fill"/></marker>'
                                    f'<path {PATH} stroke-width="3" marker-end="url(#m)"/>',
    "dots on the way": '<marker id="m" markerWidth="8" markerHeight="8" refX="4" refY="4" '
                       'markerUnits="userSpaceOnUse"><circle cx="4" cy="4" r="3.5" fill="#E5A43B"/>'
                       f'</marker><path {PATH} stroke-width="3" marker-mid="url(#m)" '
                       'marker-end="url(#m)"/>',
    "a marker with a view box": f'<marker id="m" viewBox="0 0 6 6" markerWidth="4" '
                                f'markerHeight="3" refX="3" refY="3" orient="auto">{HEAD}</marker>'
                                '<polyline points="30,30 90,70 150,30 170,60" fill="none" '
                                'stroke="#175A66" stroke-width="3" marker-start="url(#m)" '
                                'marker-mid="url(#m)" marker-end="url(#m)"/>',
    "a marker that is cut off": '<marker id="m" markerWidth="4" markerHeight="4" refX="2" refY="2" '
                                'orient="45"><rect x="-3" y="0" width="9" height="3" '
                                'fill="#7D2D18"/></marker><line x1="40" y1="50" x2="160" y2="50" '
                                'stroke="#175A66" stroke-width="4" marker-start="url(#m)" '
                                'marker-end="url(#m)"/>',
    "markers of a closed path": f'<marker id="m" markerWidth="6" markerHeight="6" refX="3" '
                                f'refY="3" orient="auto" overflow="visible">{HEAD}</marker>'
                                '<polygon points="40,25 160,25 130,75 60,75" fill="#E9E2D3" '
                                'stroke="#175A66" stroke-width="2" marker-mid="url(#m)" '
                                'marker-end="url(#m)"/>',
    "a picture that is turned": f'{FACE}<image href="{FLAG}" x="80" y="30" width="40" height="24" '
                                'transform="rotate(20 100 42)"/>',
    "a picture that is slanted": f'{FACE}<image href="{FLAG}" x="60" y="25" width="60" height="36" '
                                 'transform="skewX(15)" opacity=".7"/>',
    "a picture that is mirrored": f'{FACE}<image href="{FLAG}" x="-140" y="28" width="60" '
                                  'height="36" transform="scale(-1 1)"/>',
    "a stroke whose gradient has a focus": f'<radialGradient id="p" fx=".2" fy=".3">{STOPS}'
                                           '</radialGradient><rect x="34" y="24" width="132" '
                                           'height="42" rx="9" fill="#E9E2D3" stroke="url(#p)" '
                                           'stroke-width="8"/>',
    "a repeated gradient far away": f'<linearGradient id="p" x1="-9" x2="-8.7" y2=".1" '
                                    f'spreadMethod="repeat">{STOPS}</linearGradient>{BOX}',
}

SEMIBOLD = ROOT / "src/mektel/fonts/hanken-grotesk/HankenGrotesk-SemiBold.ttf"
STYLE = ("<style>@font-face{font-family:'Hanken Grotesk';font-weight:600;src:url(data:font/ttf;"
         f"base64,{base64.b64encode(SEMIBOLD.read_bytes()).decode()})}}</style>")
FONT = "font-family='Hanken Grotesk' font-weight='600' font-size='24' fill='#fff'"
SHADED = FONT.replace("#fff", "url(#p)")
DOWN = f'<linearGradient id="p" x2="0" y2="1">{STOPS}</linearGradient>'
ALONG = f'<linearGradient id="p">{STOPS}</linearGradient>'
PALE = FACE.replace("#2F8C93", "#E9E2D3")
# With the kinds of layers that they become.
LETTERED = {
    "turned": (f'{FACE}<text x="60" y="60" transform="rotate(-20 60 60)" {FONT}>Board</text>',
               ["fill", "label", "line"]),
    "turned about its middle": (f'{FACE}<text x="100" y="55" text-anchor="middle" transform='
                                f'"rotate(15 100 45)" {FONT}>Cast off</text>',
                                ["fill", "label", "line"]),
    "upside down": (f'{FACE}<text transform="translate(140 30) rotate(180) scale(1.2)" {FONT}>Horn'
                    '</text>', ["fill", "label", "line"]),
    "slanted": (f'{FACE}<text x="60" y="55" transform="skewX(-15)" {FONT}>Board</text>',
                ["fill", "fill", "line"]),
    "mirrored": (f'{FACE}<text x="-140" y="55" transform="scale(-1 1)" {FONT}>Board</text>',
                 ["fill", "fill", "line"]),
    "shaded": (f'{DOWN}{PALE}<text x="60" y="55" {SHADED}>Board</text>',
               ["fill", "label", "line"]),
    "shaded in two runs": (f'{ALONG}{PALE}<text x="50" y="55" {SHADED}>Board <tspan font-size="16">'
                           'now</tspan></text>', ["fill", "label", "label", "line"]),
    "shaded and turned": (f'{ALONG}{PALE}<text x="50" y="55" transform="rotate(10 50 50)" {SHADED}>'
                          'Board</text>', ["fill", "fill", "line"]),
    "with a line behind": (f'{FACE}<text x="60" y="55" stroke="#175A66" stroke-width="4" '
                           f'stroke-linejoin="round" paint-order="stroke" {FONT}>Board</text>',
                           ["fill", "label", "line"]),
    "cut off": (f'<clipPath id="c"><rect x="0" y="0" width="90" height="90"/></clipPath>{FACE}'
                f'<g clip-path="url(#c)"><text x="60" y="55" {FONT}>Board</text></g>',
                ["fill", "fill", "line"]),
}
