"""Tone judgement: the ladder of every element, from bare card to its deepest touch."""

from strata.tones.ground import Ground, Place
from strata.tones.ladder import Rung, ladders
from strata.tones.tryouts import Tryout, try_inks

__all__ = ["Ground", "Place", "Rung", "Tryout", "ladders", "try_inks"]
