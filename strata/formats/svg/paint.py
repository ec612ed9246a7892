"""What a fill or stroke is painted in: a colour, ``gradient``, or nothing."""

from __future__ import annotations

import math
from collections.abc import Mapping
from xml.etree.ElementTree import Element

from strata.formats.svg.context import Book, Context
from strata.formats.svg.css import computed, with_variables
from strata.formats.svg.document import href, local
from strata.formats.svg.values import URL, colour, length

GRADIENT = "gradient"
# all gradients and patterns together


def reference(text: str | None) -> str | None:
    """The id in ``url(#id)``, or None."""
    match = URL.match(text or "")
    return match.group(1) if match else None


def paint_key(book: Book, node: Element, context: Context, text: str) -> str | None:
    """The key of a paint, or None when nothing is painted."""
    word = text.strip()
    match = URL.match(word)
    if match:
        server = book.ids.get(match.group(1))
        if server is not None and local(server) in ("linearGradient", "radialGradient", "pattern"):
            return _served(book, server, node, context)
        word = match.group(2).strip()
        if not word:
            return None
    lower = word.lower()
    if lower in ("none", ""):
        return None
    if lower in ("currentcolor", "context-fill", "context-stroke"):
        found = colour(context.style["color"]) or "#000000"
        return found if lower == "currentcolor" else "#000000"
    return colour(word)


def _served(book: Book, server: Element, node: Element, context: Context) -> str | None:
    chain = _chain(book, server)
    units = next(
        (
            s.get("gradientUnits") or s.get("patternUnits")
            for s in chain
            if s.get("gradientUnits") or s.get("patternUnits")
        ),
        "",
    )
    if units != "userSpaceOnUse":
        x0, y0, x1, y1 = book.bounds(node, context)
        if math.isnan(x0) or x1 - x0 <= 0 or y1 - y0 <= 0:
            return None  # a box without width or height has no units to paint in
    if local(server) == "pattern":
        has_size = all(
            length(next((s.get(side) for s in chain if s.get(side)), None), context.frame, side)
            for side in ("width", "height")
        )
        return GRADIENT if has_size and any(len(s) for s in chain) else None
    stops = next((found for s in chain if (found := [n for n in s if local(n) == "stop"])), [])
    if not stops:
        return None
    if len(stops) == 1:
        return _stop_colour(book, stops[0], context.style)
    return GRADIENT


def _chain(book: Book, server: Element) -> list[Element]:
    """A paint server and those it takes over from."""
    chain = [server]
    while len(chain) < 20:
        following = book.ids.get(href(chain[-1]))
        if following is None or following in chain:
            break
        chain.append(following)
    return chain


def _stop_colour(book: Book, stop: Element, style: Mapping[str, str]) -> str | None:
    text = with_variables(book.styles.declared(stop).get("stop-color", "black"), style)
    if text.lower() == "currentcolor":
        text = computed(style, book.styles.declared(stop))["color"]
    return colour(text) or "#000000"
