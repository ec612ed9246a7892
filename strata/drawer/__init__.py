"""The drawer as a whole: where its gaps are, and which pads can do the work of another."""

from strata.drawer.gaps import SECTORS, Gap, Sector, gaps, sector_of
from strata.drawer.likeness import Likeness, alike

__all__ = ["SECTORS", "Gap", "Likeness", "Sector", "alike", "gaps", "sector_of"]
