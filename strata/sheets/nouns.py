"""What the parts of a set are called, by its kind: a stamp set has no sheets, and a die-cut no openings."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Nouns:
    """One part and several, the shapes on it, and what is done to have it in place."""

    one: str
    many: str
    shape: str
    shapes: str

    def parts(self, count: int) -> str:
        """So many parts, in words: "1 step", "5 steps"."""
        return f"{count} {self.one if count == 1 else self.many}"

    def count(self, count: int) -> str:
        """So many shapes, in words: "1 opening", "12 openings"."""
        return f"{count} {self.shape if count == 1 else self.shapes}"


NOUNS: dict[str, Nouns] = {
    "stencil": Nouns("sheet", "sheets", "opening", "openings"),
    "stamp set": Nouns("step", "steps", "shape", "shapes"),
    "die-cut": Nouns("piece", "pieces", "part", "parts"),
    "free": Nouns("panel", "panels", "place", "places"),
}
