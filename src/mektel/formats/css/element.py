"""The element that a control stands for: built from a selector, or looked up in a page."""

from __future__ import annotations

import copy
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any
from xml.etree import ElementTree

import cssselect2
from cssselect2 import parser

from mektel.formats.css.selectors import ATTRIBUTES, MARK, applies, marked
from mektel.formats.css.tokens import CssError

LARGEST_PAGE = 2 * 1024 * 1024
DEEPEST_PAGE = 400
MOST_PARTS = 60
StateClasses = Mapping[str, Iterable[str]]
# Ancestors are in these states with the element.
SHARED_STATES = ("hover", "pressed", "focus")


@dataclass(frozen=True)
class Subject:
    """A page and, by the places of children from its root down, one element in it."""

    root: ElementTree.Element
    path: tuple[int, ...]
    # What it was made from, for messages and names.
    title: str

    def in_state(self, flags: Iterable[str], by_class: StateClasses) -> list[Any]:
        """Wrapped elements from the root down to the element, which is in these states, also by
        the classes that a sheet has for them.
        """
        root = copy.deepcopy(self.root)
        element = root
        line = [element]
        for at in self.path:
            element = element[at]
            line.append(element)
        flags = sorted(flags)
        for ancestor in line[:-1]:
            ancestor.set(MARK, " ".join(flag for flag in flags if flag in SHARED_STATES))
        element.set(MARK, " ".join(flags))
        classes = element.get("class", "").split()
        own = list(classes)
        for flag in flags:
            classes += [name for name in by_class.get(flag, ()) if applies(name, own)]
            for name, value in ATTRIBUTES.get(flag, {}).items():
                element.set(name, value)
        element.set("class", " ".join(classes))
        wrapped = [cssselect2.ElementWrapper.from_html_root(root)]
        for at in self.path:
            wrapped.append(list(wrapped[-1].iter_children())[at])
        return wrapped

    @property
    def element(self) -> ElementTree.Element:
        element = self.root
        for at in self.path:
            element = element[at]
        return element


def from_selector(text: str) -> Subject:
    """The plainest page in which an element matches a selector. Raises :class:`CssError`."""
    import tinycss2

    try:
        tokens = tinycss2.parse_component_value_list(text, skip_comments=True)
        parsed = next(iter(parser.parse(marked(tokens))))
    except Exception:
        raise CssError(f"“{text[:80]}” is not a selector; write one like .button.primary") from None
    body = ElementTree.Element("body")
    root = ElementTree.Element("html")
    root.append(ElementTree.Element("head"))
    root.append(body)
    element = _build(parsed.parsed_tree, body, "button", [0])
    return Subject(root, _path(root, element), text.strip())


def _build(node: Any, body: ElementTree.Element, tag: str, count: list[int]) -> ElementTree.Element:
    count[0] += 1
    if count[0] > MOST_PARTS:
        raise CssError(f"a selector of more than {MOST_PARTS} parts")
    if isinstance(node, parser.CombinedSelector):
        left = _build(node.left, body, "div", count)
        parents = {child: parent for parent in body.iter() for child in parent}
        parent = left if node.combinator in (" ", ">") else parents.get(left, body)
        made = _build(node.right, ElementTree.Element("x"), tag, count)
        parent.append(made)
        return made
    made = ElementTree.Element(tag)
    _dress(made, node.simple_selectors)
    if made.tag == "button" and made.get("type") in ("checkbox", "radio"):
        made.tag = "input"  # no button is of that type
    if made.tag in ("html", "body"):
        body.attrib.update(made.attrib)
        return body
    body.append(made)
    return made


def _dress(element: ElementTree.Element, simple: Iterable[Any]) -> None:
    classes = element.get("class", "").split()
    for part in simple:
        if isinstance(part, parser.LocalNameSelector):
            element.tag = part.lower_local_name
        elif isinstance(part, parser.ClassSelector):
            classes.append(part.class_name)
        elif isinstance(part, parser.IDSelector):
            element.set("id", part.ident)
        elif isinstance(part, parser.AttributeSelector) and part.name != MARK:
            element.set(part.lower_name, part.value or "")
        elif isinstance(part, (parser.MatchesAnySelector, parser.SpecificityAdjustmentSelector)):
            first = part.selector_list[0].parsed_tree if part.selector_list else None
            if isinstance(first, parser.CompoundSelector):
                element.set("class", " ".join(classes))
                _dress(element, first.simple_selectors)
                classes = element.get("class", "").split()
    if classes:
        element.set("class", " ".join(dict.fromkeys(classes)))


def _path(root: ElementTree.Element, wanted: ElementTree.Element) -> tuple[int, ...]:
    line: list[tuple[ElementTree.Element, tuple[int, ...]]] = [(root, ())]
    while line:
        element, path = line.pop()
        if element is wanted:
            return path
        line += [(child, (*path, at)) for at, child in enumerate(element)]
    raise CssError("a selector that no element can match")


def from_page(html: str, selector: str, source: str) -> Subject:
    """The first element of a page that a selector matches. Raises :class:`CssError`."""
    import html5lib
    import tinycss2

    if len(html) > LARGEST_PAGE:
        raise CssError(f"{source}: longer than {LARGEST_PAGE // 2**20} MB, so it is not read.")
    try:
        root = html5lib.parse(html, namespaceHTMLElements=False)
    except RecursionError:
        raise CssError(f"{source}: elements nested too deeply") from None
    for element in root.iter():
        # Comments have a function for a tag.
        if not isinstance(element.tag, str):
            element.tag = "comment"
    tokens = tinycss2.parse_component_value_list(selector, skip_comments=True)
    try:
        wanted = cssselect2.compile_selector_list(marked(tokens))
    except Exception:
        raise CssError(f"“{selector[:80]}” is not a selector; write one like .button") from None
    stack: list[tuple[Any, tuple[int, ...]]] = [
        (cssselect2.ElementWrapper.from_html_root(root), ())]
    while stack:
        wrapped, path = stack.pop()
        if any(compiled.test(wrapped) for compiled in wanted):
            return Subject(root, path, selector.strip())
        if len(path) > DEEPEST_PAGE:
            raise CssError(f"{source}: elements nested more than {DEEPEST_PAGE} deep")
        children = [(child, (*path, at)) for at, child in enumerate(wrapped.iter_children())]
        stack += reversed(children)
    raise CssError(f"{source}: no element in it matches {selector}")
