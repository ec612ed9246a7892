"""The drawer as a whole: where its gaps are, and which pads can do the work of another."""

from strata.drawer.gaps import Gap, gaps
from strata.drawer.likeness import Likeness, alike

__all__ = ["Gap", "Likeness", "alike", "gaps"]
