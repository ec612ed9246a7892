"""Tone judgement: the ladder of every element, from bare card to its deepest touch."""

from strata.tones.ladder import Place, Rung, ladders
from strata.tones.tryouts import Tryout, try_inks

__all__ = ["Place", "Rung", "Tryout", "ladders", "try_inks"]
