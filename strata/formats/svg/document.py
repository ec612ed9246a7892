"""The parsed file, or a refusal: no entities but short flat ones, nothing from outside, no endless nesting."""

from __future__ import annotations

import gzip
import io
import re
from collections.abc import Iterator
from functools import lru_cache
from xml.etree.ElementTree import Element, ParseError

from strata.errors import BadFile, TooLarge
from strata.formats.limits import MOST_DRAWING

MOST_DEPTH = 200
MOST_PARTS = 60_000
LONGEST_ENTITY, MOST_ENTITIES, MOST_EXPANDED = 400, 64, 8_000_000
# characters, declarations, characters: namespaces that drawing programs abbreviate need no more
SVG_NAMESPACES = ("{http://www.w3.org/2000/svg}", "")
XLINK_HREF = "{http://www.w3.org/1999/xlink}href"

_ENTITY = re.compile(r"<!ENTITY\s+(%\s+)?(\S+)\s+(\"[^\"]*\"|'[^']*'|[^>]*)>")


def local(node: Element) -> str:
    """The tag of an SVG element without its namespace; empty for foreign elements and comments."""
    return _local(node.tag) if isinstance(node.tag, str) else ""


@lru_cache(maxsize=512)
def _local(tag: str) -> str:
    for space in SVG_NAMESPACES:
        if tag.startswith(space) and "}" not in tag[len(space) :]:
            return tag[len(space) :]
    return ""


def href(node: Element) -> str:
    """What an element refers to: the id of ``#id``, or an empty text."""
    value = node.get("href", node.get(XLINK_HREF, "")).strip()
    return value[1:] if value.startswith("#") else ""


def parse(data: bytes) -> Element:
    """The root of an SVG file of at most 8 MB; raises BadFile or TooLarge with a sentence."""
    from defusedxml import DefusedXmlException, ElementTree

    if len(data) > MOST_DRAWING:
        raise TooLarge("This drawing is over 8 MB; save it without embedded pictures.", "file")
    data = _unpacked(data)
    _check_entities(data)
    try:
        root: Element = ElementTree.fromstring(data, forbid_dtd=False, forbid_entities=False)
    except DefusedXmlException as error:
        raise BadFile("This drawing refers to outside files, which are not read for safety.") from error
    except (ParseError, ValueError, LookupError) as error:
        raise BadFile(f"This is not a readable SVG file ({error}).") from error
    if local(root) != "svg":
        raise BadFile("This is not an SVG drawing.")
    _measure_depth(root)
    return root


def _unpacked(data: bytes) -> bytes:
    """The text of a compressed drawing (.svgz), no larger than an open one may be."""
    if data[:2] != b"\x1f\x8b":
        return data
    try:
        text = gzip.GzipFile(fileobj=io.BytesIO(data)).read(MOST_DRAWING + 1)
    except (OSError, EOFError) as error:
        raise BadFile("This compressed drawing is damaged.") from error
    if len(text) > MOST_DRAWING:
        raise TooLarge("This drawing is over 8 MB once unpacked; simplify it.", "file")
    return text


def _text(data: bytes) -> str:
    """The bytes as text, well enough to find declarations in it."""
    for mark, name in (
        (b"\xff\xfe", "utf-16"),
        (b"\xfe\xff", "utf-16"),
        (b"<\0", "utf-16-le"),
        (b"\0<", "utf-16-be"),
    ):
        if data.startswith(mark):
            return data.decode(name, "replace")
    return data.decode("utf-8", "replace")


def _check_entities(data: bytes) -> None:
    text = _text(data)
    if "<!ENTITY" not in text:
        return
    found = _ENTITY.findall(text)
    if len(found) != text.count("<!ENTITY") or len(found) > MOST_ENTITIES:
        raise BadFile("This drawing defines entities in a way that is not read for safety.")
    longest = 0
    for parameter, _, value in found:
        flat = value[:1] in "\"'" and value and "&" not in value and "%" not in value
        if parameter or not flat or len(value) > LONGEST_ENTITY:
            raise BadFile(
                "This drawing defines entities that refer to others or to outside files; they are not read for safety."
            )
        longest = max(longest, len(value))
    if text.count("&") * longest > MOST_EXPANDED:
        raise TooLarge("This drawing repeats its entities too often to be read safely.", "file")


def _measure_depth(root: Element) -> None:
    level, depth, parts = [root], 0, 0
    while level:
        depth, parts = depth + 1, parts + len(level)
        if depth > MOST_DEPTH or parts > MOST_PARTS:
            raise TooLarge("This drawing has more parts or deeper groups than a set can have.", "file")
        level = [child for node in level for child in node]


def by_id(root: Element) -> dict[str, Element]:
    """Elements by id; the first of each counts."""
    found: dict[str, Element] = {}
    for node in root.iter():
        key = node.get("id")
        if key:
            found.setdefault(key, node)
    return found


def drawn_children(node: Element) -> Iterator[Element]:
    """Child elements in the SVG namespace."""
    return (child for child in node if local(child))
