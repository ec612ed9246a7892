"""Which groups of a drawing are its layers."""

from __future__ import annotations

from collections.abc import Iterator
from xml.etree.ElementTree import Element

from strata.formats.svg.context import SHAPES
from strata.formats.svg.document import drawn_children, local

_INKSCAPE = "{http://www.inkscape.org/namespaces/inkscape}"
_LABEL, _MODE = f"{_INKSCAPE}label", f"{_INKSCAPE}groupmode"
_WRAPPERS = frozenset(("g", "svg", "a", "switch"))


def _title(node: Element) -> str:
    for name in ("data-name", _LABEL, "id"):
        text = node.get(name, "").strip()
        if text:
            return text[:120]
    return ""


def _marked(node: Element) -> Iterator[Element]:
    """The outermost groups that an editor marked as layers."""
    for child in drawn_children(node):
        if local(child) == "g" and child.get(_MODE) == "layer":
            yield child
        elif local(child) in _WRAPPERS:
            yield from _marked(child)


def _drawn(node: Element) -> list[Element]:
    """Children that can paint something."""
    return [c for c in drawn_children(node) if local(c) in _WRAPPERS | SHAPES | {"use", "text", "image"}]


def layer_nodes(root: Element) -> dict[int, str]:
    """Layer names by ``id()`` of the group: an editor's layers, else the outermost groups with ids.

    A lone group around everything is looked into. Empty when the drawing has
    no layers. Names are made unique.
    """
    groups = list(_marked(root))
    if not groups:
        node = root
        while True:
            inside = _drawn(node)
            groups = [c for c in inside if local(c) in ("g", "svg")]
            # a group without a name is a layer only beside others that have one
            groups = groups if any(_title(c) for c in groups) else []
            wrapped = len(inside) == 1 and local(inside[0]) in _WRAPPERS
            deeper = wrapped and sum(local(c) == "g" and bool(_title(c)) for c in _drawn(inside[0])) >= 2
            switch = wrapped and local(inside[0]) in ("switch", "a")
            if not (deeper or switch or (wrapped and not groups)):
                break
            node = inside[0]
    names: dict[int, str] = {}
    for group in groups:
        title = name = _title(group) or f"Sheet {len(names) + 1}"
        number = 2
        while name in names.values():
            name, number = f"{title} ({number})", number + 1
        names[id(group)] = name
    return names
