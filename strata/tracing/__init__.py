"""A photographed sheet to polygons in millimetres: find it, straighten it, find its openings."""

from strata.tracing.trace import Traced, trace

__all__ = ["Traced", "trace"]
