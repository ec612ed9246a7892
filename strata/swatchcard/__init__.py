"""Swatch cards: fields to ink by hand, with marks by which a photograph of them can be straightened and read."""

from strata.swatchcard.layout import PAPERS, CardLayout, Field

__all__ = ["PAPERS", "CardLayout", "Field"]
