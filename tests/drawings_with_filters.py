"""More drawings of ours: each step of a filter, and masks, clips, gradients, strokes alone."""

from __future__ import annotations

from tests.drawings import FACE, STOPS

SRGB = 'x="-.5" y="-.5" width="2" height="2" color-interpolation-filters="sRGB"'
LAMP = '<circle cx="100" cy="45" r="16" fill="#F3C25B" filter="url(#f)"/>'
PAIR = """<g filter="url(#f)"><circle cx="88" cy="45" r="16" fill="#F3C25B"/><rect x="92" y="32"
    width="40" height="26" fill="#B8472A" fill-opacity=".7"/></g>"""


def by(steps: str, shapes: str = LAMP, attributes: str = SRGB) -> str:
    return f'<filter id="f" {attributes}>{steps}</filter>{FACE}{shapes}'


FILTERED = {
    "a blur in linear light": by('<feGaussianBlur stdDeviation="2"/>', PAIR,
                                 'x="-.5" y="-.5" width="2" height="2"'),
    "a blur one way": by('<feGaussianBlur stdDeviation="5 0"/>'),
    "a blur that the region cuts off": by(
        '<feGaussianBlur stdDeviation="4"/>', attributes='x="0" y="0" width="1" height="1" '
        'color-interpolation-filters="sRGB"'),
    "a region in units": by(
        '<feGaussianBlur stdDeviation="4"/>', attributes='filterUnits="userSpaceOnUse" x="90" '
        'y="10" width="60" height="60" color-interpolation-filters="sRGB"'),
    "a step in shares of the box": by(
        '<feGaussianBlur stdDeviation=".1"/>',
        attributes=f'{SRGB} primitiveUnits="objectBoundingBox"'),
    "an offset": by('<feOffset dx="7" dy="-3"/>', PAIR),
    "a flood behind": by("""<feFlood flood-color="#fff" flood-opacity=".5" result="b"/><feMerge>
        <feMergeNode in="b"/><feMergeNode in="SourceGraphic"/></feMerge>"""),
    "in": by("""<feFlood flood-color="#fff"/><feComposite in2="SourceGraphic" operator="in"/>"""),
    "out": by("""<feFlood flood-color="#fff"/><feComposite in2="SourceGraphic" operator="out"/>"""),
    "atop": by("""<feOffset in="SourceGraphic" dx="9" result="o"/><feFlood flood-color="#fff"/>
        <feComposite in2="o" operator="atop"/>""", PAIR),
    "xor": by("""<feOffset in="SourceGraphic" dx="9" dy="5" result="o"/><feComposite
        in="SourceGraphic" in2="o" operator="xor"/>"""),
    "arithmetic": by("""<feOffset in="SourceGraphic" dx="6" result="o"/><feComposite in="o"
        in2="SourceGraphic" operator="arithmetic" k2=".5" k3=".5"/>"""),
    "lighter": by("""<feOffset in="SourceGraphic" dx="6" result="o"/><feComposite in="o"
        in2="SourceGraphic" operator="lighter"/>""", PAIR),
    "a blend": by("""<feFlood flood-color="#3AA2A8" result="b"/><feBlend in="SourceGraphic" in2="b"
        mode="multiply"/>"""),
    "a screen of itself moved": by("""<feOffset in="SourceGraphic" dx="8" result="o"/><feBlend
        in="SourceGraphic" in2="o" mode="screen"/>""", PAIR),
    "thinner": by('<feMorphology radius="3"/>'),
    "thicker one way": by('<feMorphology operator="dilate" radius="4 1"/>'),
    "a matrix of colours": by("""<feColorMatrix
        values="0 1 0 0 0 1 0 0 0 0 0 0 1 0 .1 0 0 0 .8 0"/>""", PAIR),
    "light to alpha": by('<feColorMatrix type="luminanceToAlpha"/>', PAIR),
    "more colour": by('<feColorMatrix type="saturate" values="2"/>', PAIR),
    "levels by a table": by("""<feComponentTransfer><feFuncR type="table"
        tableValues="1 0"/><feFuncG type="discrete" tableValues="0 .5 1"/><feFuncB type="linear"
        slope=".5"
        intercept=".2"/><feFuncA type="gamma" exponent="2"
        amplitude=".8"/></feComponentTransfer>""", PAIR),
    "a shadow in a colour with alpha": by("""<feDropShadow dx="-4" dy="4" stdDeviation="2"
        flood-color="#7D2D18" flood-opacity=".7"/>""", PAIR),
    "results by name": by("""<feGaussianBlur in="SourceAlpha" stdDeviation="2" result="blur"/>
        <feOffset in="blur" dy="4" result="moved"/><feFlood flood-color="#fff"
        result="white"/><feComposite in="white" in2="moved" operator="in"
        result="glow"/><feMerge><feMergeNode
        in="glow"/><feMergeNode in="SourceGraphic"/></feMerge>""", PAIR),
    "a filter of a filter": f"""<filter id="a" {SRGB}><feOffset dx="6"/></filter><filter id="f"
        {SRGB}><feGaussianBlur stdDeviation="1.5"/></filter>{FACE}<g filter="url(#f)"><circle
        cx="90"
        cy="45" r="14" fill="#fff" filter="url(#a)"/></g>""",
    "a mask by alpha": f"""<mask id="m" mask-type="alpha" style="mask-type:alpha"><rect x="30"
        y="20" width="70" height="50" fill-opacity=".5"/></mask>{FACE}<circle cx="100" cy="45"
        r="20"
        fill="#fff" mask="url(#m)"/>""",
    "a mask in shares of a box": f"""<mask id="m" maskContentUnits="objectBoundingBox"><rect
        width=".5" height="1" fill="#888"/><circle cx=".75" cy=".5" r=".2"
        fill="#fff"/></mask>{FACE}<rect
        x="70" y="28" width="60" height="34" fill="#F3C25B" mask="url(#m)"/>""",
    "a clip of a clip": f"""<clipPath id="a"><rect x="60" y="20" width="60" height="50"/></clipPath>
        <clipPath id="b"><circle cx="110" cy="45" r="24"/></clipPath>{FACE}<g clip-path="url(#a)"><g
        clip-path="url(#b)"><rect x="30" y="20" width="140" height="50" fill="#fff"/></g></g>""",
    "a clip with a hole": f"""<clipPath id="a"><path clip-rule="evenodd" d="M60 22h80v46h-80zM80
        32v26h40v-26z"/></clipPath>{FACE}<rect x="50" y="25" width="100" height="40" fill="#F3C25B"
        clip-path="url(#a)"/>""",
    "a clip that is moved": f"""<clipPath id="a" transform="translate(20 0)"><circle cx="80"
        cy="45" r="18" transform="scale(1 .8) translate(0 11)"/></clipPath>{FACE}<rect x="50" y="25"
        width="100" height="40" fill="#F3C25B" clip-path="url(#a)"/>""",
    "a line with a clip": f"""<clipPath id="a"><rect x="60" y="0" width="80"
        height="100"/></clipPath>
        {FACE}<path d="M40 60C80 10 120 90 160 30" fill="none" stroke="#fff" stroke-width="6"
        clip-path="url(#a)"/>""",
    "a radial gradient that is squeezed": f"""<radialGradient id="g" gradientTransform="matrix(1 0 0
        .5 0 .25)">{STOPS}</radialGradient>{FACE}<rect x="60" y="25" width="80" height="40"
        fill="url(#g)"/>""",
    "a radial gradient that is mirrored": f"""<radialGradient id="g" r=".2"
        spreadMethod="reflect">{STOPS}</radialGradient>{FACE}<rect x="60" y="25" width="80"
        height="40" fill="url(#g)"/>""",
    "a gradient of one colour": f"""<linearGradient id="g"><stop
        stop-color="#F3C25B"/></linearGradient>{FACE}<rect x="60" y="25" width="80" height="40"
        fill="url(#g)"/>""",
    "hard stops": f"""<linearGradient id="g"><stop offset=".3" stop-color="#fff"/><stop offset=".3"
        stop-color="#B8472A"/><stop offset=".8" stop-color="#B8472A"/><stop offset=".8"
        stop-color="#F3C25B"/></linearGradient>{FACE}<rect x="60" y="25" width="80" height="40"
        fill="url(#g)"/>""",
    "a gradient far away": f"""<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="-900"
        y1="0"
        x2="1100" y2="0">{STOPS}</linearGradient>{FACE}<rect x="60" y="25" width="80" height="40"
        fill="url(#g)"/>""",
    "a closed stroke with dashes": FACE + """<circle cx="100" cy="45" r="17" fill="none"
        stroke="#fff" stroke-width="4" stroke-dasharray="8 5"/>""",
    "a wide stroke on a small thing": FACE + """<rect x="92" y="37" width="16" height="16" rx="2"
        fill="#fff" stroke="#B8472A" stroke-width="8"/>""",
    "half-clear strokes": FACE + """<path d="M50 45H150M100 25V65" stroke="#fff" stroke-width="8"
        stroke-opacity=".5"/>""",
    "quadratic curves": FACE + """<path d="M40 60Q60 10 80 45T120 45T160 30" fill="none"
        stroke="#fff" stroke-width="4"/><path d="M60 62q20 -20 40 0z" fill="#F3C25B"/>""",
    "relative and smooth curves": FACE + """<path d="m40 45c10-30 20-30 30 0s20 30 30 0 20-30 30 0"
        fill="none" stroke="#F3C25B" stroke-width="3" stroke-linecap="round"/>""",
    "several parts in one path": FACE + """<path d="M40 28h20v14h-20zM70 28h20v14h-20zM100 28l10
        14h-20zM130 35a7 7 0 1 0 14 0a7 7 0 1 0-14 0" fill="#fff"/>""",
    "a ring by two directions": FACE + """<path d="M80 45a20 20 0 1 0 40 0a20 20 0 1 0-40 0zM88
        45a12 12 0 1 1 24 0a12 12 0 1 1-24 0z" fill="#F3C25B"/>""",
    "rings in rings by even and odd": FACE + """<path fill-rule="evenodd" fill="#fff" d="M70
        24h60v42h-60zM76 30h48v30h-48zM82 36h36v18h-36zM88 42h24v6h-24z"/>""",
    "an open shape that is filled": FACE + """<polyline points="50,60 70,28 90,60 110,28 130,60"
        fill="#F3C25B" stroke="#7D2D18" stroke-width="2"/>""",
    "mirrored": FACE + """<g transform="translate(200 0) scale(-1 1)"><path d="M60 30l30 15-30 15z"
        fill="#fff"/><rect x="110" y="30" width="30" height="20" rx="6" fill="#F3C25B"/></g>""",
    "turned about a spot": FACE + """<g transform="rotate(-20 100 45)"><rect x="70" y="36"
        width="60"
        height="18" rx="9" fill="#F3C25B" stroke="#fff" stroke-width="2"/><line x1="60" y1="45"
        x2="140" y2="45" stroke="#B8472A" stroke-width="2"/></g>""",
    "skewed": FACE + """<rect x="70" y="30" width="50" height="26" fill="#fff" transform="skewX(20)"
        opacity=".8"/><rect x="110" y="0" width="20" height="20" fill="#F3C25B"
        transform="skewY(12)"/>""",
    "a gradient in a turned group": f"""<linearGradient id="g" x2="0"
        y2="1">{STOPS}</linearGradient>
        {FACE}<g transform="rotate(25 100 45)"><rect x="80" y="30" width="40" height="30"
        fill="url(#g)"/></g>""",
    "a radial gradient in a scaled group": f"""<radialGradient
        id="g">{STOPS}</radialGradient>{FACE}<g
        transform="translate(100 45) scale(2 .8)"><circle r="18" fill="url(#g)"/></g>""",
    "one gradient for all, by what it refers to": f"""<linearGradient
        id="a">{STOPS}</linearGradient>
        <linearGradient id="b" href="#a" gradientUnits="userSpaceOnUse" x1="40" x2="160"/>
        <linearGradient id="c" href="#b" gradientTransform="rotate(90 100 45)"/>{FACE}<circle
        cx="70" cy="45" r="16" fill="url(#b)"/><circle cx="130" cy="45" r="16"
        fill="url(#c)"/>""",
    "colours in many notations": FACE + """<g><rect x="36" y="26" width="16" height="16"
        fill="rgb(243 194 91)"/><rect x="56" y="26" width="16" height="16"
        fill="rgba(255,255,255,.5)"
        /><rect x="76" y="26" width="16" height="16" fill="hsl(12 60% 45%)"/><rect x="96" y="26"
        width="16" height="16" fill="#abc"/><rect x="116" y="26" width="16" height="16"
        fill="rebeccapurple"/><rect x="136" y="26" width="16" height="16" fill="#11223380"/></g>""",
    "styles over attributes": """<style>.a{fill:#2F8C93} .a.b{fill:#175A66}</style><rect x="30"
        y="20" width="140" height="50" rx="9" class="a" fill="red"/><circle cx="60" cy="45" r="12"
        class="b a" style="fill:#F3C25B"/><circle cx="100" cy="45" r="12" class="b a"/><circle
        cx="140" cy="45" r="12" class="a" style="fill:#fff!important"/>""",
    "a symbol with its own place": f"""<symbol id="s" viewBox="-10 -10 20 20"
        preserveAspectRatio="xMaxYMid"><rect x="-10" y="-10" width="20" height="20"
        fill="#F3C25B"/><circle r="6" fill="#7D2D18"/></symbol>{FACE}<use href="#s" x="50" y="28"
        width="80" height="34"/>""",
    "use of use": f"""<g id="one"><circle r="5" fill="#fff"/></g><g id="two"><use href="#one" x="50"
        y="45"/><use href="#one" x="66" y="45"/></g>{FACE}<use href="#two" x="20"/><use href="#two"
        x="60" opacity=".6"/>""",
    "what lies outside is cut off": FACE + """<svg x="60" y="30" width="50" height="30"><circle
        cx="0" cy="0" r="28" fill="#F3C25B"/><rect x="30" y="20" width="60" height="60"
        fill="#fff"/></svg>""",
    "a switch": FACE + """<switch><g><circle cx="70" cy="45" r="14" fill="#fff"/></g><g><circle
        cx="130" cy="45" r="14" fill="red"/></g></switch>""",
    "thin and thick on half pixels": FACE + """<g stroke="#fff" fill="none"><path d="M40.25 30V60"
        stroke-width=".75"/><path d="M60.5 30V60" stroke-width="1.5"/><path d="M80.3 30V60"
        stroke-width="3.3"/><rect x="100.5" y="30.5" width="40" height="25" rx="4.5"/></g>""",
    "shadows of shadows": f"""<filter id="f" {SRGB}><feDropShadow dx="0" dy="1" stdDeviation="1"
        flood-opacity=".4"/><feDropShadow dx="0" dy="5" stdDeviation="4" flood-opacity=".3"/>
        </filter><rect x="40" y="25" width="120" height="40" rx="10" fill="#E9E2D3"
        filter="url(#f)"/>""",
}
