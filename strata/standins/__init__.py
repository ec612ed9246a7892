"""A pad is missing: which of the others does its work in this build, on this stack, next to these neighbours."""

from strata.standins.search import StandIn, stand_ins

__all__ = ["StandIn", "stand_ins"]
