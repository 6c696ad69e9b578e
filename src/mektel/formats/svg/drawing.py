"""Reading SVG text into plain nodes with their lines, safely.

Entities and external references are refused by defusedxml; size, element count and nesting are
limited; nothing is ever fetched.
"""

from __future__ import annotations

import io
import xml.etree.ElementTree as ElementTree
from dataclasses import dataclass, field
from typing import Any
from xml.sax import SAXParseException
from xml.sax.handler import ContentHandler
from xml.sax.xmlreader import AttributesImpl, Locator

import cssselect2
import defusedxml.sax
import tinycss2
from defusedxml.common import DefusedXmlException

from mektel.core.errors import MektelError
from mektel.core.finding import Finding, Place

LARGEST_FILE = 8 * 1024 * 1024
MOST_ELEMENTS = 20_000
DEEPEST = 200


class DrawingError(MektelError):
    """A drawing that cannot be read, with the line where reading stopped."""


# Paints where none is written, and those of what refers to an element.
DEFAULTS = {"fill": "black", "stroke": "none"}
CONTEXT = {"context-fill": "fill", "context-stroke": "stroke"}


class _StopReadingError(Exception):
    pass


@dataclass
class Node:
    """One element: its local name, attributes with styles merged in, line, children."""

    tag: str
    attributes: dict[str, str]
    line: int
    parent: Node | None = None
    children: list[Node] = field(default_factory=list)
    # Its text and children in the order in which they stand; a text has no node.
    inside: list[tuple[Node | None, str]] = field(default_factory=list)
    # Its transform with those of what it stands in, once that is asked for.
    placed: Any = None

    def get(self, name: str, default: str = "") -> str:
        return self.attributes.get(name, default)

    def inherited(self, name: str, default: str = "") -> str:
        node: Node | None = self
        while node is not None:
            value = node.attributes.get(name)
            if value is not None and value != "inherit":
                return value
            node = node.parent
        return default

    def walk(self) -> list[Node]:
        nodes, todo = [], [self]
        while todo:
            node = todo.pop()
            nodes.append(node)
            todo.extend(reversed(node.children))
        return nodes

    @property
    def text(self) -> str:
        return "".join(text for _, text in self.inside)

    @property
    def label(self) -> str:
        name = self.get("id")
        return f"<{self.tag}> “{name}”" if name else f"<{self.tag}>"


@dataclass
class Drawing:
    root: Node
    by_id: dict[str, Node]
    # What is being drawn where something refers to it, and who refers to each.
    within: list[Node] = field(default_factory=list)
    owners: list[Node] = field(default_factory=list)
    _left: dict[Finding, None] = field(default_factory=dict)

    @property
    def leftovers(self) -> list[Finding]:
        return list(self._left)

    def leave(self, node: Node, why: str, what: str = "") -> None:
        place = Place(line=node.line, element=what or node.label[:80])
        self._left.setdefault(Finding("not-taken-over", place, why))

    def paint(self, node: Node, name: str) -> str:
        """The ``fill`` or ``stroke`` of an element as written; one of the context is that of what a
        marker stands on (SVG 2, 13.2).
        """
        written = node.inherited(name, DEFAULTS[name])
        for owner in reversed(self.owners):
            if written.strip() not in CONTEXT:
                break
            name = CONTEXT[written.strip()]
            written = owner.inherited(name, DEFAULTS[name])
        return "none" if written.strip() in CONTEXT else written

    def referred(self, value: str) -> Node | None:
        """The element that ``url(#name)`` or ``#name`` points at."""
        reference = value.strip()
        if reference.startswith("url("):
            reference = reference[4:].rstrip(")").strip("\"' ")
        return self.by_id.get(reference[1:]) if reference.startswith("#") else None


class _Builder(ContentHandler):
    def __init__(self) -> None:
        super().__init__()
        self.root: Node | None = None
        self._open: list[Node] = []
        self._count = 0
        self._locator: Locator | None = None

    def setDocumentLocator(self, locator: Locator) -> None:
        self._locator = locator

    @property
    def line(self) -> int:
        return (self._locator.getLineNumber() or 0) if self._locator else 0

    def startElement(self, name: str, attrs: AttributesImpl) -> None:
        self._count += 1
        if self._count > MOST_ELEMENTS:
            raise _StopReadingError(f"more than {MOST_ELEMENTS} elements")
        if len(self._open) > DEEPEST:
            raise _StopReadingError(f"nested deeper than {DEEPEST} levels")
        parent = self._open[-1] if self._open else None
        attributes = {key.split(":")[-1]: attrs.getValue(key) for key in attrs.getNames()}
        node = Node(name.split(":")[-1], attributes, self.line, parent)
        if parent is None:
            self.root = node
        else:
            parent.children.append(node)
            parent.inside.append((node, ""))
        self._open.append(node)

    def endElement(self, name: str) -> None:
        self._open.pop()

    def characters(self, content: str) -> None:
        if self._open:
            self._open[-1].inside.append((None, content))


def read_drawing(content: bytes, source: str) -> Drawing:
    """Raises :class:`DrawingError` for what is not a well-formed, harmless SVG."""
    if len(content) > LARGEST_FILE:
        raise DrawingError(f"{source}: larger than 8 MB, so it is not read.")
    builder = _Builder()
    try:
        defusedxml.sax.parse(io.BytesIO(content), builder, forbid_dtd=False)
    except SAXParseException as error:
        raise DrawingError(
            f"{source}: line {error.getLineNumber()}, column {error.getColumnNumber()}: "
            f"{error.getMessage()}. This is not well-formed XML."
        ) from None
    except DefusedXmlException:
        raise DrawingError(
            f"{source}: line {builder.line}: it declares entities or refers to outside files. "
            "Save the drawing as plain SVG and import that."
        ) from None
    except _StopReadingError as error:
        raise DrawingError(f"{source}: line {builder.line}: {error}, so it is not read.") from None
    except (ValueError, LookupError) as error:
        raise DrawingError(f"{source}: {error}") from None
    root = builder.root
    if root is None or root.tag != "svg":
        what = f"<{root.tag}>" if root else "nothing"
        raise DrawingError(f"{source}: the outermost element is {what}, not <svg>.")
    nodes = root.walk()
    drawing = Drawing(root, {n.get("id"): n for n in nodes if n.get("id")})
    _merge_styles(drawing, nodes)
    return drawing


def _merge_styles(drawing: Drawing, nodes: list[Node]) -> None:
    """Puts CSS declarations in place of attributes: rules by specificity, then ``style``."""
    matcher, count = _matcher_of(drawing, nodes)
    elements = _elements(nodes) if count else [None] * len(nodes)
    for node, element in zip(nodes, elements, strict=True):
        declared: dict[str, str] = {}
        important: dict[str, str] = {}
        for match in matcher.match(element) if element is not None else ():
            usual, forced = match[-1]
            declared |= usual
            important |= forced
        if node.get("style"):
            try:
                usual, forced = _declarations(node.get("style"))
            except RecursionError:
                drawing.leave(node, "its style is nested too deeply to be read")
            else:
                declared |= usual
                important |= forced
        declared |= important
        if declared.pop("transform", "none") != "none":
            drawing.leave(node, "a transform in its style is skipped")
        node.attributes.update(declared)


def _matcher_of(drawing: Drawing, nodes: list[Node]) -> tuple[cssselect2.Matcher, int]:
    matcher, count = cssselect2.Matcher(), 0
    for node in nodes:
        if node.tag != "style":
            continue
        for rule in tinycss2.parse_stylesheet(node.text, skip_comments=True, skip_whitespace=True):
            if rule.type != "qualified-rule":
                drawing.leave(node, "only plain rules are read", "a style rule")
                continue
            declared = _declarations(tinycss2.serialize(rule.content))
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                text = tinycss2.serialize(rule.prelude).strip()
                drawing.leave(node, "its selector cannot be read", f"“{text[:60]}”")
                continue
            for selector in selectors:
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, declared)
                    count += 1
    return matcher, count


def _elements(nodes: list[Node]) -> list[cssselect2.ElementWrapper]:
    """The nodes, which stand in document order, as the selector library wants them."""
    made: dict[int, ElementTree.Element] = {}
    for node in nodes:
        element = ElementTree.Element(node.tag, node.attributes)
        made[id(node)] = element
        if node.parent is not None:
            made[id(node.parent)].append(element)
    root = cssselect2.ElementWrapper.from_xml_root(made[id(nodes[0])])
    return list(root.iter_subtree())


def _declarations(text: str) -> tuple[dict[str, str], dict[str, str]]:
    """What is declared, and what of it is important."""
    declared: dict[str, str] = {}
    important: dict[str, str] = {}
    for item in tinycss2.parse_declaration_list(text, skip_comments=True, skip_whitespace=True):
        if item.type == "declaration":
            kept = important if item.important else declared
            kept[item.lower_name] = tinycss2.serialize(item.value).strip()
    return declared, important
