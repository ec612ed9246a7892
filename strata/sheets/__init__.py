"""Layer sets as polygons in millimetres, and what can be measured on them."""

from strata.sheets.model import KINDS, ROLES, Group, LayerSet, Opening, Seat, Sheet

__all__ = ["KINDS", "ROLES", "Group", "LayerSet", "Opening", "Seat", "Sheet"]
