"""Which pads, in which order and how many coats, come nearest to a wanted colour on a card."""

from strata.recipes.search import Recipe, Shelf

__all__ = ["Recipe", "Shelf"]
