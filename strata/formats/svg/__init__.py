"""SVG as a browser draws it, as painted shapes in millimetres."""

from strata.formats.svg.drawing import Drawing, read_drawing
from strata.formats.svg.walking import Painted

__all__ = ["Drawing", "Painted", "read_drawing"]
