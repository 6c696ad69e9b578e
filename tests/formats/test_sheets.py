"""Whole style sheets: the cascade, what of them is pressable, and pages, against Chromium."""

from __future__ import annotations

from pathlib import Path

import cssselect2
import pytest
import tinycss2
from click.testing import CliRunner
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.cli import cli
from mektel.core.errors import MektelError
from mektel.core.kit import Kit
from mektel.core.kit.bringing_in import Arrival, with_arrivals
from mektel.core.kit.checking import checked
from mektel.formats.css import CssError, control_from_css, control_of, open_sheet, pressables
from mektel.formats.css.conditions import media_holds
from mektel.formats.css.element import from_selector
from mektel.formats.css.lengths import Scale, length
from mektel.formats.css.selectors import marked, nested
from mektel.formats.kitfile import kit_from_text, kit_to_text, read_kit
from tests.sheets import PACKAGES, compared, package_text
from tests.slices import count_of

# Each holds something that is decided by the cascade alone: a rule that must win or lose.
BOX = "width:120px;height:44px;"
DRAWN = ("url(\"data:image/svg+xml,%3csvg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 20 10'"
         "%3e%3crect x='2' y='2' width='16' height='6' rx='3' fill='navy'/%3e%3ccircle cx='6' "
         "cy='5' r='2' fill='gold'/%3e%3c/svg%3e\")")
CASCADES = {
    "layers": "@layer low, high; .b{border-radius:4px}"
              "@layer high{.b{background:teal}} @layer low{.b.b.b{background:red}}",
    "important in layers": "@layer low, high; @layer low{.b{background:teal!important}}"
                           "@layer high{.b{background:red!important}} .b{background:red}",
    "specificity": ":where(#x, .b.b){background:red} .b{background:teal} *{background:red}",
    "functions": ".b:is(.b, #none){background:teal} .b:not(.c){border:3px solid navy}"
                 "button.b{border-color:gold}",
    "nesting": ".b{background:red; &{background:teal} .b &{background:red} &:hover{color:red;"
               "background:navy; @media (hover:hover){border-radius:12px}}}",
    "inherited properties": ":root{--a:teal;--c:var(--a)} body{--a:red} .b{--w:8px;"
                            "background:var(--c);border:var(--w) solid var(--none, gold)}",
    "no value": "body{--x:initial} .b{background:red;background:var(--x);"
                "border:2px solid navy;border-color:var(--x);color:teal}",
    "media and supports": "@media (min-width:600px) and (not (prefers-color-scheme:dark)){"
                          ".b{background:teal}} @media print, (max-width:300px){.b{background:red}}"
                          "@supports (display:grid){.b{border-radius:50%/30%}}",
    "sums": ".b{--n:3;background:hsl(calc(var(--n)*60) 60% 40%);border-radius:min(2em,14px);"
            "border:clamp(1px,calc(1rem/4),9px) solid rgb(0 0 0/calc(1/3))}",
    "colours": ".b{background:color-mix(in oklch,teal 70%,gold);border:4px solid "
               "color-mix(in srgb,currentcolor 40%,transparent);color:oklch(.4 .1 20)}",
    "relative colours": ".b{--a:#ffd70099;background:oklch(from teal calc(l + .1) c h);border:4px "
                        "solid rgb(from gold r g b/60%)}.b:hover{background:hsl(from navy calc(h "
                        "+ 40) s calc(l + 20))}.b:active{background:hwb(from red h 10% b);"
                        "border-color:lab(from var(--a) calc(l/2) a b)}",
    "hints": ".b{background:linear-gradient(to right,gold,30%,navy)}"
             ".b:hover{background:linear-gradient(gold 10%,80%,#0000 90%)}"
             ".b:active{background:conic-gradient(teal,40deg,gold 100deg)}",
    "filters": ".b{background:linear-gradient(gold,teal);border:4px solid navy;box-shadow:0 3px "
               "6px #d008;position:relative}.b:hover{filter:brightness(85%) contrast(1.2)}"
               ".b:active{filter:hue-rotate(40deg) saturate(1.4) sepia(.2)}"
               ".b:disabled{filter:grayscale(80%) opacity(.5)}.b:focus{filter:invert()}"
               ".b::after{content:'';position:absolute;inset:8px;background:gold;"
               "filter:brightness(.5)}",
    "sides": ".b{border:3px solid teal;border-width:1px 2px 9px 4px;border-radius:12px 2px;"
             "background:gold}",
    "sides of colours": ".b{border:4px solid teal;border-block-start:7px solid navy;"
                        "border-inline-end-color:transparent;background:gold}",
    "tiles": ".b{background:linear-gradient(gold,navy) right 8px/40px 50% no-repeat,"
             "radial-gradient(white,teal) padding-box;border:6px solid #0003;border-radius:9px}",
    "stripes": ".b{background:linear-gradient(45deg,#fff8 25%,#0000 25%,#0000 50%,#fff8 50%,"
               "#fff8 75%,#0000 75%) 0 0/24px 24px,teal;border:3px solid navy;border-radius:9px}"
               ".b:hover{background:linear-gradient(90deg,gold,navy) 5px 50%/17px 12px repeat-x "
               "padding-box,teal}.b:active{background:repeating-linear-gradient(135deg,gold 0 "
               "25%,teal 25% 50%) 8px 8px/20px 20px}.b:focus{background:linear-gradient(gold,"
               "teal 80%,navy) 0 0/100% 18px round}.b:disabled{background:linear-gradient(30deg,"
               "gold,navy) right 6px top/20px 100% no-repeat repeat}",
    "border images": ".b{border:5px solid red;border-image:linear-gradient(90deg,gold,navy) 1;"
                     "background:#0683;border-radius:8px}.b:hover{border-image:linear-gradient("
                     "20deg,gold,teal,navy) 2 5 fill/2px 5px stretch}.b:active{border-image-source:"
                     "radial-gradient(gold,navy);border-image-slice:5;border-image-width:1}"
                     ".b:focus{border-image:none}"
                     ".b:disabled{border:2px solid navy}",
    "parts": ".b{position:relative;background:gold}.b::after{content:'';position:absolute;"
             "inset:25% 10% auto;height:8px;border-radius:4px;background:teal;"
             "transform:rotate(-4deg)}.b:hover::after{background:navy;left:30%}",
    "shorthands and their parts": ".b{padding-left:9px;padding:1px;border-left-color:red;"
                                  "border:2px solid teal;border-top-width:6px;outline-color:red;"
                                  "outline:3px solid gold;outline-offset:2px;background:red;"
                                  "background-color:gold;border-top-left-radius:9px;"
                                  "border-radius:3px}",
    "attributes and siblings": "p + .b, .b[type=submit]{background:red}"
                               ".b:not([type]):first-child:last-child{background:teal}"
                               "[class~=b]{border:1px solid navy}[class^='c']{background:red}",
    "keywords": "body{border:5px solid red;color:navy}.b{border-color:inherit;color:inherit;"
                "background:currentcolor}.b{border:3px solid;border-color:unset}"
                ".b:hover{background:initial}.b:active{all:unset}",
    "shadows": ".b{font-size:20px;color:teal;box-shadow:inset 0 -.2em .3em #0006,"
               "0 calc(1em - 12px) 1rem -2px,0 0 0 2px gold;border-radius:9px}",
    "gradients mix": ".b{background:linear-gradient(to right,oklch(.7 .15 30),oklch(.6 .15 250))}"
                     ".b:hover{background:linear-gradient(in srgb,gold 40%,teal)}",
    "units": "html{font-size:20px}.b{font-size:.8rem;border:.25em solid teal;background:gold;"
             "border-radius:1rem/1.5em;box-shadow:.1in 1mm 0 #0005}",
    "containers and layers within": "@layer a{@layer b{.b{background:red}} .b{background:teal}}"
                                    "@layer a.b{.b{border:3px solid navy}}"
                                    "@media screen{@supports not (display:none){.b{color:red;"
                                    "background:red}}}",
    "states together": ".b{background:gold}.b:focus-visible{outline:3px solid teal}"
                       ".b:hover:not(:active){background:orange}.b:active:hover{background:navy}"
                       ".b:active{border:4px solid red}.b:disabled:hover{background:red}",
    "transforms": ".b{background:teal;border-radius:8px;translate:3px -2px}"
                  ".b:hover{transform:scale(.9) rotate(5deg)}"
                  ".b:active{transform:translate(10%,2px);opacity:60%}",
    "drawings in the sheet": f".b{{--i:{DRAWN};background:var(--i) no-repeat right 12px center/"
                             "auto 20px teal;border:3px solid gold}.b:hover{background:var(--i) "
                             "center/contain no-repeat}.b:active{border-radius:9px;background:navy "
                             "var(--i) 100% 0/30px no-repeat border-box}.b:focus{"
                             "background-image:var(--i),linear-gradient(red,gold);"
                             "background-size:40px 40px,auto;background-position:0 bottom,0}",
    "states by class": ".b{background:gold}.b.is-disabled{opacity:.5}.b.active{background:teal}"
                       ".b:active{background:navy}.b:hover{background:orange}"
                       ".b.active:hover{border:3px solid red}",
}


@pytest.mark.parametrize("name", CASCADES)
def test_the_cascade_is_that_of_the_browser(name: str) -> None:
    text = f".b{{{BOX}}}{CASCADES[name]}"
    found = list(compared(text, name, [".b"]))
    assert found and all(entry.good for entry in found), found


def test_a_thumb_that_stands_in_its_switch() -> None:
    text = ("[type=checkbox].s{appearance:none;width:44px;height:24px;padding:1px;background:#ccc;"
            "border:2px solid #ccc;border-radius:12px}.s::before{content:'';display:block;"
            "aspect-ratio:1;height:100%;border-radius:50%;background:white}.s:checked{background:"
            "teal;border-color:teal}.s:checked::before{margin-inline-start:18px}"
            ".s:hover::before{width:50%}")
    found = list(compared(text, "switch", ["[type=checkbox].s"]))
    assert {"rest", "checked", "hover"} <= {entry.state for entry in found}
    assert all(entry.good for entry in found), found


@pytest.mark.parametrize(("background", "why"), [
    (f"{DRAWN} 0/30px", "tiles that repeat"),
    ("linear-gradient(30deg,red,gold) 0/9px", "tiles that repeat"),
    ("radial-gradient(red,gold) 0/9px", "tiles that repeat"),
    ("linear-gradient(red,gold) 0/9px space", "space between"),
    (";border:2px solid;border-image:url(k.png) 9", "by itself"),
    (";border:2px solid;border-image:linear-gradient(red,gold) 40", "slices of 40 px"),
    (f"{DRAWN} -9px 0/30px no-repeat", "that is cut off"),
    (f"{DRAWN} 0/0 no-repeat", "of no size"), ("url(key.png)", "nothing is fetched"),
    ("url(data:image/png;base64,AAAA)", "of pixels"), ("url(data:image/svg+xml,%3csvg)", "XML"),
    ("url(data:image/svg+xml;base64,PHN2Zz48cGF0)", "XML"),
    (f"url(data:image/svg+xml,{'x' * 200_001})", "more than 200 kB"),
])
def test_pictures_that_are_no_layers_are_listed(background: str, why: str) -> None:
    control, left, _ = control_from_css(f".b{{{BOX}\nbackground: gold {background}}}")
    assert control.layers[0].id == "background"
    assert any(why in finding.message and finding.place.line == 2 for finding in left), left


def test_elements_of_well_known_sheets_look_as_in_the_browser() -> None:
    """Some of each; tools/sheets.py has them all."""
    each = count_of(2, 4)
    elements: dict[tuple[str, str], bool] = {}
    for name in PACKAGES:
        text = package_text(name)
        listed = [entry.selector for entry in pressables(open_sheet(text, name))]
        for entry in compared(text, name, listed[:: max(1, len(listed) // each)][:each],
                              {"rest", "hover", "disabled"}):
            key = name, entry.selector
            elements[key] = elements.get(key, True) and entry.good
    over = [key for key, good in elements.items() if not good]
    assert len(elements) >= 6 * each and len({name for name, _ in elements}) >= 6
    assert len(over) <= len(elements) / 8, over


def test_what_is_pressable_is_listed_with_what_it_builds_on(examples: Path) -> None:
    text = (examples / "ferry-site.css").read_text()
    sheet = open_sheet(text, "ferry-site.css")
    listed = {entry.selector: entry.base for entry in pressables(sheet)}
    assert listed == {
        ".ticket": "", ".ticket.ticket--lamp": ".ticket", ".ticket.ticket--quiet": ".ticket",
        ".ticket.ticket--small": ".ticket", ".deck-key": "", ".pier-tab": "", ".buoy-switch": ""}
    brought = [control_of(sheet, selector) for selector in (".ticket", ".ticket.ticket--lamp")]
    assert not any(leftovers for _, leftovers, _ in brought)
    kit = Kit()
    kit = checked(with_arrivals(kit, [
        Arrival(brought[0][0], brought[0][2]), Arrival(brought[1][0], brought[1][2], 0)]), kit)
    assert kit_from_text(kit_to_text(kit)) == kit
    base, derived = kit.controls
    assert derived.base == base.id and derived.name == "Ticket lamp"
    # What the sheet changes for a dark page is a scheme of the palette.
    assert kit.schemes == ("light", "dark")
    assert {s.name: s.schemes for s in kit.palette}["ink"] == {"dark": "#F2EDDF"}
    assert base.transition and base.transition.easing == "cubic-bezier(0.2, 0.7, 0.3, 1)"
    switch, _, _ = control_of(sheet, ".buoy-switch")
    assert switch.behaviour == "two-position" and switch.text == ""
    thumb = switch.part_in("before-gradient-1", {"checked"})
    assert thumb.outline.x == pytest.approx((1, -31)) and thumb.outline.width == (0, 28)


def test_conditions_are_those_of_a_light_desktop_screen_with_a_pointer() -> None:
    for query, holds in {
            "screen and (min-width: 40em)": True, "(400px <= width <= 700px)": False,
            "(width > 900px)": True, "not all and (monochrome)": None, "only print": False,
            "(hover: none), (pointer: fine)": True, "(prefers-reduced-motion: reduce)": False,
            "(min-width: 1000px) and (orientation: landscape)": True, "(800px > height)": False,
            "not (any-hover: hover)": False, "(prefers-color-scheme: dark)": False,
            "(max-resolution: 1dppx) or (color)": True, "": True}.items():
        tokens = tinycss2.parse_component_value_list(query)
        assert media_holds(tokens) is holds, query


terms = st.recursive(
    st.one_of(st.integers(-40, 40).map(lambda n: (f"{n}px", float(n))),
              st.integers(1, 9).map(lambda n: (f"{n}em", n * 10.0)),
              st.integers(-90, 90).map(lambda n: (f"{n}%", n * 2.0))),
    lambda inner: st.one_of(
        st.tuples(inner, inner, st.sampled_from("+-")).map(lambda p: (
            f"calc({p[0][0]} {p[2]} {p[1][0]})",
            p[0][1] + p[1][1] if p[2] == "+" else p[0][1] - p[1][1])),
        st.tuples(inner, st.integers(1, 5)).map(lambda p: (
            f"calc({p[0][0]} * {p[1]} / 2)", p[0][1] * p[1] / 2)),
        st.lists(inner, min_size=1, max_size=3).map(lambda p: (
            f"max({', '.join(text for text, _ in p)})", max(value for _, value in p))),
        st.tuples(inner, inner, inner).map(lambda p: (
            f"clamp({p[0][0]}, {p[1][0]}, {p[2][0]})",
            max(p[0][1], min(p[1][1], p[2][1]))))),
    max_leaves=6)


@given(terms)
def test_sums_come_to_what_they_say(term: tuple[str, float]) -> None:
    text, value = term
    token = tinycss2.parse_one_component_value(text)
    assert length(token, Scale(10.0), 200.0) == pytest.approx(value, abs=1e-6)


@pytest.mark.parametrize("text", [
    "calc(1px + 2)", "calc(1px +)", "calc(2 / 0 * 1px)", "min()", "clamp(1px, 2px)",
    "calc(1px 2px)", "calc(red)", "max(1px, 2deg)"])
def test_sums_that_come_to_nothing_are_refused(text: str) -> None:
    with pytest.raises(CssError):
        length(tinycss2.parse_one_component_value(text), Scale(), 100.0)


def test_what_is_too_much_is_refused_in_words() -> None:
    for text, words in (
            ("a" * (4 * 2**20 + 1), "longer than 4 MB"),
            ("@media all{" * 14 + "a{}", "nested more"),
            (".b{" + "&:hover .b & {" * 11 + "color:red" + "}" * 12, "more than|12 deep"),
            ((".b,.c,.d," * 249 + ".e{}") * 161, "more than 120000 selectors")):
        with pytest.raises(CssError, match=words):
            open_sheet(text, "large.css")
    control, leftovers, _ = control_from_css(
        ".b{--a:var(--b) var(--b);--b:var(--c) var(--c);--c:var(--d) var(--d);"
        f"--d:{'1px ' * 60_000};width:40px;padding:var(--a)}}")
    assert control.size[0] == 40 and any("200000 tokens" in str(entry) for entry in leftovers)


def test_a_transition_by_its_parts_and_a_class_that_is_no_switch() -> None:
    control, _, _ = control_from_css(
        ".b{background:gold;transition-property:all;transition-duration:250ms,1s;"
        "transition-timing-function:steps(3,jump-none);transition-delay:.1s}"
        ".b:active,.b.active{background:teal}")
    assert control.behaviour == "push" and "checked" not in control.states
    timing = control.transition
    assert timing and (timing.seconds, timing.delay) == (0.25, 0.1)
    assert timing.easing == "steps(3,jump-none)"
    toggle, _, _ = control_from_css(".b{background:gold}.b.active{background:teal}")
    assert toggle.behaviour == "two-position"


def test_sheets_on_the_command_line(examples: Path, tmp_path: Path) -> None:
    run, sheet, kit = CliRunner(), str(examples / "ferry-site.css"), str(tmp_path / "k.mektel")
    listed = run.invoke(cli, ["import", sheet, "--list"])
    assert listed.exit_code == 0 and ".ticket.ticket--lamp  line 49  builds on .ticket" in (
        listed.output.splitlines())
    done = run.invoke(cli, ["import", sheet, "--kit", kit, "--selector", ".ticket.ticket--lamp",
                            "--selector", ".ticket"])
    assert done.exit_code == 0, done.output
    lamp, ticket = read_kit(Path(kit)).controls
    assert (lamp.name, lamp.base, ticket.base) == ("Ticket lamp", ticket.id, None)
    page = tmp_path / "page.html"
    page.write_text("<p class=ticket-bar><button id=buy class=ticket>Buy</button>")
    done = run.invoke(cli, ["import", sheet, "--kit", kit, "--selector", "#buy", "--html",
                            str(page), "--name", "Buy"])
    assert done.exit_code == 0 and read_kit(Path(kit)).control("buy").outline.corners == (0,) * 4
    for arguments, words in (
            (["--html", str(page), "--kit", kit], "say with --selector"),
            ([], "Say with --kit"), (["--kit", kit, "--selector", ".none"], "no declaration"),
            (["--kit", kit, "--selector", "@!"], "is not a selector")):
        done = run.invoke(cli, ["import", sheet, *arguments])
        assert isinstance(done.exception, MektelError) and words in str(done.exception), words
    empty = tmp_path / "empty.css"
    empty.write_text("body { margin: 0 }")
    done = run.invoke(cli, ["import", str(empty), "--list"])
    assert "nothing in it describes" in str(done.exception)


def test_an_element_of_a_page_has_what_surrounds_it(examples: Path) -> None:
    text = (examples / "ferry-site.css").read_text()
    page = ("<body><p>Tickets<div class=ticket-bar><button class='ticket ticket--lamp' id=buy "
            "style='padding-left:40px'>Buy</button></div>")
    control, _, _ = control_from_css(text, selector="#buy", html=page)
    assert control.outline.corners == (0, 0, 0, 0) and control.outline.padding[0] == 33
    with pytest.raises(CssError, match=r"no element in it matches \.none"):
        control_from_css(text, selector=".none", html=page)
    with pytest.raises(CssError, match="is not a selector"):
        control_from_css(text, selector="..")


@pytest.mark.parametrize(("text", "listed"), [
    (".btn{padding:4px}.btn-group{padding:4px}.btn-label{color:red}.btn-big{padding:9px}",
     [".btn", ".btn.btn-big"]),
    ("button{border:0;background:none}.go{color:red}.go:hover{color:blue}", [".go"]),
    ("a.key{background:red}.key{background:teal}.key .btn{color:red}", [".key"]),
    ("button,input[type=submit]{background:teal;padding:3px}", ["button"]),
    (".tile{background:teal;padding:2px}.tile:hover{color:red}.page{background:red}", [".tile"]),
    (".chip{color:red}.chip.is-active{color:blue}.chip--red{color:red}",
     [".chip", ".chip.chip--red"]),
    (".key{padding:1px}.key__icon{padding:1px}.key_red{color:red}.key:is(.x){color:red}",
     [".key.key_red"]),
    ("[role=button]{background:teal}[role=switch]:checked{background:red}", ["[role=button]"]),
    (".key-close{padding:1px;border:0;background:red}.key{padding:1px;background:red}",
     [".key-close", ".key"]),
    (":root{--x:red}html{color:red}.plain{color:blue}", [".plain"]),
])
def test_what_counts_as_pressable(text: str, listed: list[str]) -> None:
    found = [entry.selector for entry in pressables(open_sheet(text, "sheet.css"))]
    assert set(listed) <= set(found), found
    assert not [name for name in found if "group" in name or "label" in name or "page" in name
                or "icon" in name or "html" in name], found


@pytest.mark.parametrize(("prelude", "marked_as"), [
    (".b:hover", ".b[mektel-state~=hover]"), ("a:not(:active)", "a:not([mektel-state~=pressed])"),
    (".b::before", ".b::before"), (":is(.b, .c):focus-visible > i",
                                   ":is(.b, .c)[mektel-state~=focus] > i"),
    ("input:enabled", "input:not([mektel-state~=disabled])"),
    (".b:first-child:visited", ".b:first-child[mektel-state~=never]"),
])
def test_states_in_selectors_become_marks(prelude: str, marked_as: str) -> None:
    tokens = tinycss2.parse_component_value_list(prelude)
    assert marked(tokens) == marked_as
    assert nested(tinycss2.parse_component_value_list("&:hover, i &, p"), ".b") == (
        ".b:hover, i :is(.b), .b p")


def test_arrivals_bring_their_colours_and_schemes() -> None:
    control, _, palette = control_from_css(
        ":root{--sea:teal;--sand:gold}@media (prefers-color-scheme:dark){:root{--sea:navy}}"
        ".b{background:var(--sea);color:var(--sand)}")
    kit = with_arrivals(Kit(), [Arrival(control, palette), Arrival(control, palette, 0)])
    assert kit.schemes == ("light", "dark") and len(kit.palette) == 2
    assert [c.base for c in kit.controls] == [None, kit.controls[0].id]
    # Another sheet's colour of the same name is written into its control.
    other, _, colours = control_from_css(":root{--sea:red}.c{background:var(--sea)}")
    kit = checked(with_arrivals(kit, [Arrival(other, colours)]), kit)
    assert kit.controls[-1].layer("background").colour == "#FF0000" and len(kit.palette) == 2


@pytest.mark.parametrize(("selector", "path", "tag", "given"), [
    (".key.key-red", "html/body", "button", {"class": "key key-red"}),
    ("nav > a.key[href='#top']", "html/body/nav", "a", {"class": "key", "href": "#top"}),
    ("#deck .row .key:hover", "html/body/div/div", "button", {"class": "key"}),
    ("input[type=submit]:not(.x)", "html/body", "input", {"type": "submit"}),
    ("p + .key", "html/body", "button", {"class": "key"}),
    (":is(.key, .other)", "html/body", "button", {"class": "key"}),
    ("body.night .key", "html/body", "button", {"class": "key"}),
])
def test_the_plainest_page_for_a_selector(
    selector: str, path: str, tag: str, given: dict[str, str]
) -> None:
    subject = from_selector(selector)
    element, line = subject.root, [subject.root.tag]
    for at in subject.path[:-1]:
        element = element[at]
        line.append(element.tag)
    assert "/".join(line) == path and subject.element.tag == tag
    assert subject.element.attrib == given
    compiled = cssselect2.compile_selector_list(marked(
        tinycss2.parse_component_value_list(selector)))[0]
    assert compiled.test(subject.in_state({"hover"}, {})[-1])
    # Its states are marks, attributes and the classes that are meant for it.
    there = subject.in_state({"disabled", "checked"}, {
        "disabled": ["is-disabled", "key-disabled", "other-disabled"]})[-1].etree_element
    assert there.get("aria-pressed") == "true" and "is-disabled" in there.get("class")
    assert ("key-disabled" in there.get("class")) == ("key" in given.get("class", ""))
    assert "other-disabled" not in there.get("class")
    assert subject.element.attrib == given


@settings(max_examples=60, deadline=None)
@given(st.lists(st.sampled_from([
    ".b", ".b.c", ":hover", "&", "{", "}", "color:red", ";", "@media", "(width>1px)", "@layer", "x",
    "--a:", "var(--a)", ",", "::before", "content:''", ":is(", ")", "position:absolute", "inset:",
    "calc(1px", "+", "50%)", "background:", "gold", "!important", "[a=b]", ">", "*", "border-top:",
]), max_size=30))
def test_whatever_a_sheet_holds_gives_controls_or_a_reason(parts: list[str]) -> None:
    try:
        sheet = open_sheet(" ".join(parts), "sheet.css")
        for entry in pressables(sheet)[:3]:
            control, _, palette = control_of(sheet, entry.selector)
            checked(with_arrivals(Kit(), [Arrival(control, palette)]), Kit())
    except CssError as error:
        assert "sheet.css" in str(error) or str(error)


@pytest.mark.parametrize(("text", "why"), [
    ("filter: url(#glow)", "url(#glow)"), ("filter: blur(2px)", "blur(2px)"),
    ("color: rgb(from nowhere r g b)", "color"), ("color: hsl(from red q s l)", "color"),
    ("background: oklch(from red l c)", "background"),
    ("background: linear-gradient(red, 20%, 40%, blue)", "two hints in a row"),
    ("background: linear-gradient(20%, red, blue)", "gradient"),
])
def test_filters_and_colours_that_cannot_be_said_are_listed(text: str, why: str) -> None:
    control, left, _ = control_from_css(
        f".b {{ width: 90px; height: 30px; border: 1px solid;\n{text} }}")
    assert control.size == (90, 30)
    assert any(why in finding.message and finding.place.line == 2 for finding in left), left
