"""The predicted panel after any pass, at any size."""

from strata.picture.fields import Field, field_of
from strata.picture.panel import Layer, Panel, layers_of

__all__ = ["Field", "Layer", "Panel", "field_of", "layers_of"]
