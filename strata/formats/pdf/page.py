"""What printed pages share: fonts that know accents, millimetres from the top left, text that fits."""

from __future__ import annotations

import io
import unicodedata
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Any

PT_A_MM = 72 / 25.4
PLAIN, BOLD = "DejaVuSans", "DejaVuSans-Bold"
# an open family (the licence lies beside it) with the letters of most alphabets, but no Chinese or Indian ones
LEADING = 1.28
# from line to line, times the size of the type
FROM_RIGHT = ("R", "AL")
QUIET = 0.35
# grey of small print


@cache
def _fonts() -> dict[str, Any]:
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    found = {}
    for name in (PLAIN, BOLD):
        found[name] = TTFont(name, str(Path(__file__).parent / "data" / f"{name}.ttf"))
        pdfmetrics.registerFont(found[name])
    return found


def unprintable(words: str) -> set[str]:
    """Letters that there is no glyph for."""
    glyphs = _fonts()[PLAIN].face.charToGlyph
    return {c for c in words if ord(c) not in glyphs and not c.isspace()}


def as_drawn(words: str) -> str:
    """Words in the order in which their letters stand on paper, from left to right.

    Arabic letters as they join; mixed lines by the Unicode bidirectional
    algorithm (UAX #9). What reads from left to right alone comes back as it is.
    """
    if not any(unicodedata.bidirectional(c) in FROM_RIGHT for c in words):
        return words
    from arabic_reshaper import ArabicReshaper
    from bidi import get_display

    # without ligatures of whole words, of which the font has few
    joined = ArabicReshaper({"use_unshaped_instead_of_isolated": True, "support_ligatures": False})
    return str(get_display(joined.reshape(words)))


class Page:
    """A canvas of reportlab measured in mm from the top left of the paper."""

    def __init__(self, size: tuple[float, float], title: str) -> None:
        from reportlab import rl_config
        from reportlab.pdfgen.canvas import Canvas

        # streams as they are: as text they are a quarter longer, and take as long as all the drawing
        rl_config.useA85 = 0

        _fonts()
        self.size = size
        self.missing: set[str] = set()
        self._out = io.BytesIO()
        # invariant: the same card gives the same file, byte for byte
        self.canvas: Any = Canvas(
            self._out, pagesize=(size[0] * PT_A_MM, size[1] * PT_A_MM), invariant=1, pageCompression=1
        )
        self.canvas.setTitle(title)
        self.canvas.setCreator("Anastrata")

    def _y(self, y: float) -> float:
        return (self.size[1] - y) * PT_A_MM

    def text(
        self,
        x: float,
        y: float,
        words: str,
        points: float = 8,
        bold: bool = False,
        grey: float = 0.0,
        width: float | None = None,
    ) -> None:
        """Words on a base line at ``y``; cut with an ellipsis where they are wider than ``width`` mm."""
        font = BOLD if bold else PLAIN
        self.missing |= unprintable(words)
        self.canvas.setFont(font, points)
        self.canvas.setFillGray(grey)
        if width is not None:
            words = self._fitted(words, width, font, points)
        self.canvas.drawString(x * PT_A_MM, self._y(y), as_drawn(words))

    def _fitted(self, words: str, width: float, font: str, points: float) -> str:
        def wide(text: str) -> float:
            return float(self.canvas.stringWidth(text, font, points)) / PT_A_MM

        if wide(words) <= width:
            return words
        while words and wide(words + "…") > width:
            words = words[:-1]
        return words + "…"

    def box(
        self,
        x: float,
        y: float,
        width: float,
        height: float,
        *,
        line: float | None = None,
        fill: Any = None,
        grey: float = 0.0,
    ) -> None:
        """A rectangle: ``line`` its width in pt, ``fill`` a grey or an (r, g, b)."""
        if fill is not None:
            if isinstance(fill, tuple):
                self.canvas.setFillColorRGB(*fill)
            else:
                self.canvas.setFillGray(fill)
        if line is not None:
            self.canvas.setLineWidth(line)
            self.canvas.setStrokeGray(grey)
        self.canvas.rect(
            x * PT_A_MM, self._y(y + height), width * PT_A_MM, height * PT_A_MM,
            stroke=int(line is not None), fill=int(fill is not None),
        )  # fmt: skip

    def wide(self, words: str, points: float, bold: bool = False) -> float:
        """mm that words take on one line."""
        return float(self.canvas.stringWidth(words, BOLD if bold else PLAIN, points)) / PT_A_MM

    def paragraph(
        self,
        x: float,
        y: float,
        words: str,
        points: float,
        width: float,
        bold: bool = False,
        grey: float = 0.0,
    ) -> float:
        """Words in as many lines as they need, the first on ``y``; where the next line would stand."""
        from reportlab.lib.utils import simpleSplit

        for line in simpleSplit(words, BOLD if bold else PLAIN, points, width * PT_A_MM):
            self.text(x, y, line, points, bold=bold, grey=grey)
            y += points * LEADING / PT_A_MM
        return y

    def lines(self, words: str, points: float, width: float) -> int:
        """How many lines words take."""
        from reportlab.lib.utils import simpleSplit

        return len(simpleSplit(words, PLAIN, points, width * PT_A_MM))

    def picture(self, x: float, y: float, width: float, height: float, data: bytes) -> None:
        """A PNG or JPEG picture."""
        from reportlab.lib.utils import ImageReader

        self.canvas.drawImage(
            ImageReader(io.BytesIO(data)), x * PT_A_MM, self._y(y + height), width * PT_A_MM, height * PT_A_MM
        )

    def outline(self, rings: Sequence[Sequence[tuple[float, float]]], line: float = 0.4) -> None:
        """Closed lines through points, true to size."""
        self.canvas.setLineWidth(line)
        self.canvas.setStrokeGray(0)
        for ring in rings:
            path = self.canvas.beginPath()
            path.moveTo(ring[0][0] * PT_A_MM, self._y(ring[0][1]))
            for x, y in ring[1:]:
                path.lineTo(x * PT_A_MM, self._y(y))
            path.close()
            self.canvas.drawPath(path, stroke=1, fill=0)

    def rule(self, x: float, y: float, length: float = 50.0) -> None:
        """A rule to measure the print by."""
        self.canvas.setLineWidth(0.4)
        self.canvas.setStrokeGray(0)
        for at in range(int(length) + 1):
            tall = 3.0 if at % 10 == 0 else 2.2 if at % 5 == 0 else 1.4
            self.canvas.line((x + at) * PT_A_MM, self._y(y), (x + at) * PT_A_MM, self._y(y - tall))
        self.canvas.line(x * PT_A_MM, self._y(y), (x + length) * PT_A_MM, self._y(y))
        self.text(x + length + 3, y, f"{length:.0f} mm: measure it. If it is not, print at 100 %.", 7)

    def blob(self, x: float, y: float, width: float, height: float, fill: tuple[float, float, float]) -> None:
        """A dab: a rectangle with its corners rounded right off."""
        self.canvas.setFillColorRGB(*fill)
        self.canvas.roundRect(
            x * PT_A_MM, self._y(y + height), width * PT_A_MM, height * PT_A_MM,
            0.42 * height * PT_A_MM, stroke=0, fill=1,
        )  # fmt: skip

    def turn(self) -> None:
        """The next page."""
        self.canvas.showPage()

    def data(self) -> bytes:
        """The finished file."""
        self.canvas.save()
        return self._out.getvalue()


class Flow:
    """Lines one below the other over as many pages as they need, each page with the same head.

    ``y``: mm from the top at which the next line stands; ``foot``: where a page is full.
    """

    def __init__(self, page: Page, title: str, margin: float, head: float) -> None:
        self.page, self.title, self.margin, self.head_room = page, title, margin, head
        self.width = page.size[0] - 2 * margin
        self.foot = page.size[1] - margin
        self.y, self.turned = head, 0

    def head(self, title: str, said: str = "") -> None:
        """A new page under this title."""
        if self.turned:
            self.page.turn()
        self.turned += 1
        self.page.text(self.margin, 15, title, 14, bold=True, width=self.width - 20)
        self.page.text(self.page.size[0] - self.margin - 10, 15, str(self.turned), 8, grey=QUIET)
        if said:
            self.page.text(self.margin, 20, said, 8, grey=QUIET, width=self.width)
        self.y = self.head_room + 3

    def room(self, height: float) -> None:
        """A new page where so many mm are not left."""
        if self.y + height > self.foot:
            self.head(self.title, "continued")

    def heading(self, words: str, points: float, line: float) -> None:
        """A line in bold with room around it."""
        self.room(3 * line)
        self.y += line * 0.6
        self.page.text(self.margin, self.y, words, points * 1.15, bold=True)
        self.y += line * 1.1


def rgb_of(code: str) -> tuple[float, float, float]:
    """0..1 of a hex code such as #3a7f9c."""
    red, green, blue = (int(code[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return red, green, blue
