"""From the inked panel to the posted card: sizes, cuts, sheets of stock, thickness, weight, what is left to do."""

from strata.finish.finished import Finished, proposed

__all__ = ["Finished", "proposed"]
