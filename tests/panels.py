"""What really lies in the regions of a photographed panel, for tests and for the bench."""

import numpy as np

from strata.optics.colour import XYZ_WEIGHTS, Floats, lab_from_xyz
from strata.photographed.regions import Predicted
from strata.picture.colours import reflectances
from strata.picture.shown import View


def laid(panel: Predicted, made: View) -> Floats:
    """CIELAB (n, 3) of the regions of ``panel`` in a view of it as it was made."""
    seen = reflectances(made.stock, made.layers, made.stacks.levels) @ XYZ_WEIGHTS.T
    xyz = seen[made.stacks.numbers]
    means = [xyz[panel.labels == i].mean(axis=0) for i in range(1, int(panel.labels.max()) + 1)]
    return lab_from_xyz(np.array(means, float))
