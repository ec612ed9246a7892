"""The cascade: presentation attributes, style sheets and style attributes, as text by property.

CSS Cascade 4, Selectors 4 (cssselect2), SVG 2 section 6. Media rules count
for a screen.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any
from xml.etree.ElementTree import Element

from strata.formats.svg.document import local
from strata.formats.svg.values import paintable

INHERITED: Mapping[str, str] = {
    "fill": "black",
    "fill-rule": "nonzero",
    "clip-rule": "nonzero",
    "stroke": "none",
    "stroke-width": "1",
    "stroke-linecap": "butt",
    "stroke-linejoin": "miter",
    "stroke-miterlimit": "4",
    "stroke-dasharray": "none",
    "stroke-dashoffset": "0",
    "visibility": "visible",
    "fill-opacity": "1",
    "stroke-opacity": "1",
    "color": "black",
    "font-size": "16px",
    "marker-start": "none",
    "marker-mid": "none",
    "marker-end": "none",
    "paint-order": "normal",
}
OWN = (
    "display", "clip-path", "mask", "transform", "transform-origin", "transform-box", "overflow",
    "vector-effect", "filter", "opacity", "stop-color", "x", "y", "width", "height", "cx", "cy", "r", "rx",
    "ry", "d", "mask-type",
)  # fmt: skip
_PROPERTIES = frozenset((*INHERITED, *OWN))
_GEOMETRY = frozenset(("x", "y", "width", "height", "cx", "cy", "r", "rx", "ry", "d", "transform"))
_VAR = re.compile(r"var\(\s*(--[\w-]+)\s*(?:,([^()]*))?\)")
_KEYWORDS = frozenset(("initial", "inherit", "unset", "revert"))
Declared = Mapping[str, str]


def _screen(prelude: str) -> bool:
    """Whether a media list holds on a light screen."""
    text = prelude.strip().lower()
    if not text:
        return True
    return any(
        re.fullmatch(r"(only\s+)?(all|screen)|.*prefers-color-scheme:\s*light.*", part.strip())
        for part in text.split(",")
    )


def _rules(nodes: Iterable[Any]) -> Iterator[tuple[Any, Any]]:
    """(prelude, content) of every qualified rule that holds on a screen."""
    import tinycss2

    for node in nodes:
        if node.type == "qualified-rule":
            yield node.prelude, node.content
        elif node.type == "at-rule" and node.lower_at_keyword in ("media", "supports") and node.content:  # noqa: SIM102
            if node.lower_at_keyword == "supports" or _screen(tinycss2.serialize(node.prelude)):
                yield from _rules(
                    tinycss2.parse_rule_list(node.content, skip_comments=True, skip_whitespace=True)
                )


def declarations(content: Any) -> list[tuple[str, str, bool]]:
    """(property, value, important) of a declaration block; short hands for markers spread out."""
    import tinycss2

    found = []
    for item in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if item.type != "declaration":
            continue
        value = tinycss2.serialize(item.value).strip()
        names = (
            ("marker-start", "marker-mid", "marker-end")
            if item.lower_name == "marker"
            else (item.lower_name,)
        )
        found += [(item.name if name.startswith("--") else name, value, item.important) for name in names]
    return found


class Styles:
    """What is declared for each element of one file."""

    def __init__(self, root: Element) -> None:
        self._kept: dict[int, Declared] = {}
        self._wrappers: dict[int, Any] = {}
        self._matcher: Any = None
        sheets = [n for n in root.iter() if local(n) == "style" and _screen(n.get("media", ""))]
        texts = [
            "".join(n.itertext())
            for n in sheets
            if n.get("type", "text/css").strip().lower() in ("", "text/css")
        ]
        if any(t.strip() for t in texts):
            self._read(root, texts)

    def _read(self, root: Element, texts: list[str]) -> None:
        import cssselect2
        import tinycss2

        self._matcher = cssselect2.Matcher()
        for text in texts:
            for prelude, content in _rules(
                tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
            ):
                try:
                    selectors = cssselect2.compile_selector_list(
                        prelude, namespaces={None: "http://www.w3.org/2000/svg"}
                    )
                except cssselect2.SelectorError:
                    continue
                block = declarations(content)
                for selector in selectors:
                    if selector.pseudo_element is None:
                        self._matcher.add_selector(selector, block)
        for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            self._wrappers[id(wrapper.etree_element)] = wrapper

    def declared(self, node: Element) -> Declared:
        """Property to value for one element, the cascade applied; only what the reader follows."""
        kept = self._kept.get(id(node))
        if kept is None:
            kept = self._kept[id(node)] = self._cascade(node)
        return kept

    def _cascade(self, node: Element) -> Declared:
        plain: dict[str, str] = {}
        for name, value in node.attrib.items():
            if name in _PROPERTIES and name not in _GEOMETRY:
                plain[name] = value.strip()
        important: dict[str, str] = {}

        def take(block: Iterable[tuple[str, str, bool]]) -> None:
            for name, value, strong in block:
                if name in _PROPERTIES or name.startswith("--"):
                    (important if strong else plain)[name] = value

        if self._matcher is not None and id(node) in self._wrappers:
            for match in self._matcher.match(self._wrappers[id(node)]):
                take(match[3])
        if node.get("style"):
            take(declarations(node.get("style")))
        return {**plain, **important}


def computed(parent: Declared, declared: Declared) -> dict[str, str]:
    """Inherited properties of an element from its parent's and what it declares itself."""
    found = dict(parent)
    found.update({name: value for name, value in declared.items() if name.startswith("--")})
    for name, value in declared.items():
        if name not in INHERITED:
            continue
        text = with_variables(value, found)
        word = text.lower()
        if name in ("fill", "stroke", "color") and word not in _KEYWORDS and not paintable(text):
            continue
        if word == "initial":
            found[name] = INHERITED[name]
        elif word not in _KEYWORDS and text:
            found[name] = text
    if declared.get("color", "").lower() == "currentcolor":
        found["color"] = parent.get("color", "black")
    return found


def with_variables(value: str, style: Declared) -> str:
    """A value with its custom properties filled in (CSS Variables 1; a few levels deep)."""
    for _ in range(4):
        if "var(" not in value:
            break
        value = _VAR.sub(lambda m: style.get(m.group(1), (m.group(2) or "").strip()), value)
    return value.strip()
