"""Whole colourings from the pads at hand, chosen by what a maker judges them by."""

from strata.proposals.propose import Proposal, propose
from strata.proposals.wishes import MOODS, Wishes

__all__ = ["MOODS", "Proposal", "Wishes", "propose"]
