"""The predicted panel after any pass, at any size: a map of stacks and palettes of their colours."""

from strata.picture.fields import Field, field_of
from strata.picture.layers import Layer, layers_of
from strata.picture.stacks import Stacks, stacks_of

__all__ = ["Field", "Layer", "Stacks", "field_of", "layers_of", "stacks_of"]
