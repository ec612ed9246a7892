"""Tone judgement: the ladder of every element, from bare card to its deepest touch."""

from strata.tones.ladder import Place, Rung, ladders

__all__ = ["Place", "Rung", "ladders"]
