"""The order of work: steps, reasons, waits, cleanings, for one card."""

from strata.order.ordering import Ordering, dispatch
from strata.order.steps import Sequence, Step

__all__ = ["Ordering", "Sequence", "Step", "dispatch"]
