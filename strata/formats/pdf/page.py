"""What printed pages share: fonts that know accents, millimetres from the top left, text that fits."""

from __future__ import annotations

import io
from typing import Any

PT_A_MM = 72 / 25.4
QUIET = 0.35
# grey of small print


class Page:
    """A canvas of reportlab measured in mm from the top left of the paper."""

    def __init__(self, size: tuple[float, float], title: str) -> None:
        from reportlab.pdfbase import pdfmetrics
        from reportlab.pdfbase.ttfonts import TTFont
        from reportlab.pdfgen.canvas import Canvas

        if "Vera" not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont("Vera", "Vera.ttf"))
            pdfmetrics.registerFont(TTFont("VeraBd", "VeraBd.ttf"))
        self.size = size
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
        font = "VeraBd" if bold else "Vera"
        self.canvas.setFont(font, points)
        self.canvas.setFillGray(grey)
        if width is not None:
            words = self._fitted(words, width, font, points)
        self.canvas.drawString(x * PT_A_MM, self._y(y), words)

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


def rgb_of(code: str) -> tuple[float, float, float]:
    """0..1 of a hex code such as #3a7f9c."""
    red, green, blue = (int(code[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return red, green, blue
