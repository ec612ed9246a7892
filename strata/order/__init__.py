"""The order of work: steps, reasons, waits, cleanings, for one card."""

from strata.order.dispatch import dispatch
from strata.order.steps import Sequence, Step

__all__ = ["Sequence", "Step", "dispatch"]
