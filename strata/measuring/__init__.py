"""What matters of a set before the first ink: brushes, necks, bridges, masks, slip, trim, minutes."""

from strata.measuring.openings import OpeningMeasures, measure_openings
from strata.measuring.trim import Trim, trim

__all__ = ["OpeningMeasures", "Trim", "measure_openings", "trim"]
