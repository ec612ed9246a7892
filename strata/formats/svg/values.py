"""Lengths, transforms, viewports and paints: text of attributes to numbers."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
NUMBER = re.compile(_NUMBER)
_LENGTH = re.compile(rf"\s*({_NUMBER})\s*([a-zA-Z%]*)\s*")
PX_PER_UNIT: Mapping[str, float] = {
    "": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "q": 96 / 101.6, "in": 96.0, "pt": 96 / 72, "pc": 16.0,
}  # fmt: skip
# CSS Values and Units 4, section 6.2
MM_PER_PX = 25.4 / 96


class Matrix(NamedTuple):
    """x' = a x + c y + e, y' = b x + d y + f."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def then(self, inner: Matrix) -> Matrix:
        """This matrix applied after ``inner`` (this is the outer one)."""
        a, b, c, d, e, f = self
        return Matrix(
            a * inner.a + c * inner.b, b * inner.a + d * inner.b, a * inner.c + c * inner.d,
            b * inner.c + d * inner.d, a * inner.e + c * inner.f + e, b * inner.e + d * inner.f + f,
        )  # fmt: skip

    @property
    def scale(self) -> float:
        """The mean scale: square root of the area it makes of a unit square."""
        return math.sqrt(abs(self.a * self.d - self.b * self.c))


AS_IT_IS = Matrix()


class Frame(NamedTuple):
    """What percentages and em refer to: a viewport in user units and the font size."""

    width: float
    height: float
    em: float = 16.0

    @property
    def diagonal(self) -> float:
        """SVG 2, section 8.9: percentages that are neither width nor height."""
        return math.hypot(self.width, self.height) / math.sqrt(2)


@lru_cache(maxsize=4096)
def _measured(text: str) -> tuple[float, str]:
    """A number and its unit; of what is no length a unit that there is not."""
    match = _LENGTH.fullmatch(text)
    return (float(match.group(1)), match.group(2).lower()) if match else (0.0, "?")


def length(
    text: str | None, frame: Frame, along: str = "diagonal", default: float | None = 0.0
) -> float | None:
    """User units of a length; ``along`` (width, height, diagonal) is what % refers to."""
    if text is None:
        return default
    value, unit = _measured(text)
    if unit == "%":
        return value / 100 * float(getattr(frame, along))
    if unit in ("em", "rem"):
        return value * (frame.em if unit == "em" else 16.0)
    if unit in ("ex", "ch"):
        return value * frame.em / 2
    factor = PX_PER_UNIT.get(unit)
    return default if factor is None else value * factor


def numbers(text: str) -> list[float]:
    """All numbers of a text."""
    return [float(n) for n in NUMBER.findall(text)]


_FUNCTION = re.compile(r"\s*,?\s*([a-zA-Z]+)\s*\(([^)]*)\)\s*")
_ANGLES = {"": 1.0, "deg": 1.0, "rad": 180 / math.pi, "grad": 0.9, "turn": 360.0}


def _angle(text: str) -> float:
    match = _LENGTH.fullmatch(text)
    return float(match.group(1)) * _ANGLES.get(match.group(2).lower(), 1.0) if match else 0.0


def transform(text: str | None, frame: Frame) -> Matrix | None:
    """The matrix of a transform list (attribute or CSS); None when a browser would refuse it."""
    result = Matrix()
    if not text or text.strip().lower() == "none":
        return result
    at = 0
    for match in _FUNCTION.finditer(text):
        if match.start() != at:
            return None
        at = match.end()
        arguments = [a for a in re.split(r"[\s,]+", match.group(2).strip()) if a]
        if len(arguments) == 1 and len(NUMBER.findall(arguments[0])) > 1:
            arguments = NUMBER.findall(arguments[0])  # 1-2 is two numbers
        made = _function(match.group(1), arguments, frame)
        if made is None:
            return None
        result = result.then(made)
    return result if at == len(text) and all(math.isfinite(v) for v in result) else None


def _function(name: str, given: list[str], frame: Frame) -> Matrix | None:
    values = [length(g, frame, "width" if i == 0 else "height", None) for i, g in enumerate(given)]
    plain = [float(NUMBER.match(g).group()) if NUMBER.match(g) else 0.0 for g in given]  # type: ignore[union-attr]
    match name, len(given):
        case "matrix", 6:
            return Matrix(*plain)
        case ("translate" | "translateX", 1):
            return Matrix(e=values[0] or 0.0)
        case "translateY", 1:
            return Matrix(f=length(given[0], frame, "height") or 0.0)
        case "translate", 2:
            return Matrix(e=values[0] or 0.0, f=values[1] or 0.0)
        case "scale", 1:
            return Matrix(a=plain[0], d=plain[0])
        case "scale", 2:
            return Matrix(a=plain[0], d=plain[1])
        case "scaleX", 1:
            return Matrix(a=plain[0])
        case "scaleY", 1:
            return Matrix(d=plain[0])
        case "rotate", (1 | 3):
            turn = math.radians(_angle(given[0]))
            cos, sin = math.cos(turn), math.sin(turn)
            made = Matrix(cos, sin, -sin, cos)
            if len(given) == 3:
                x, y = values[1] or 0.0, values[2] or 0.0
                made = Matrix(e=x, f=y).then(made).then(Matrix(e=-x, f=-y))
            return made
        case "skewX", 1:
            return Matrix(c=math.tan(math.radians(_angle(given[0]))))
        case "skewY", 1:
            return Matrix(b=math.tan(math.radians(_angle(given[0]))))
        case "skew", (1 | 2):
            second = math.tan(math.radians(_angle(given[1]))) if len(given) == 2 else 0.0
            return Matrix(b=second, c=math.tan(math.radians(_angle(given[0]))))
    return None


def viewport(box: list[float], width: float, height: float, aspect: str) -> Matrix:
    """From the user units of a viewBox to a viewport at 0 0 (SVG 2, section 8.2)."""
    x, y, w, h = box
    sx, sy = width / w, height / h
    words = aspect.split()
    words = words[1:] if words[:1] == ["defer"] else words
    align = words[0] if words else "xMidYMid"
    if align == "none":
        return Matrix(a=sx, d=sy, e=-x * sx, f=-y * sy)
    s = max(sx, sy) if words[1:2] == ["slice"] else min(sx, sy)
    share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    ax, ay = share.get(align[1:4], 0.5), share.get(align[5:8], 0.5)
    return Matrix(a=s, d=s, e=-x * s + ax * (width - w * s), f=-y * s + ay * (height - h * s))


def view_box(text: str | None) -> list[float] | None:
    """Four numbers with a positive size, or None."""
    found = numbers(text or "")
    return found if len(found) == 4 and found[2] > 0 and found[3] > 0 else None


URL = re.compile(r"""url\(\s*['"]?\s*#([^'")]*?)\s*['"]?\s*\)\s*(.*)""", re.S)
_WORDS = frozenset(("none", "currentcolor", "transparent", "context-fill", "context-stroke"))


def paintable(text: str) -> bool:
    """Whether a browser takes a text as a paint; otherwise the property keeps what it inherited."""
    word = text.strip()
    return word.lower() in _WORDS or URL.match(word) is not None or colour(word) is not None


@lru_cache(maxsize=4096)
def colour(text: str) -> str | None:
    """``#rrggbb`` of a CSS colour, its alpha ignored; None for ``transparent`` and what is no colour."""
    import tinycss2.color4

    if text.lower() == "transparent":
        return None
    found = tinycss2.color4.parse_color(re.sub(r"\s*icc-color\(.*", "", text))
    if found is None or found == "currentcolor":
        return None
    red, green, blue = (min(255, max(0, round(c * 255))) for c in found.to("srgb")[:3])
    return f"#{red:02x}{green:02x}{blue:02x}"
