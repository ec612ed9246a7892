"""Layer sets as polygons in millimetres, and what can be measured on them."""

from strata.sheets.model import KINDS, Group, LayerSet, Opening, Sheet

__all__ = ["KINDS", "Group", "LayerSet", "Opening", "Sheet"]
