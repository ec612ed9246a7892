"""Warnings before ink is spent: each rule in a file of its own, with its reason and its mends."""

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.registry import RULES, advise, serious

__all__ = ["RULES", "Finding", "Mend", "Situation", "Subject", "advise", "serious"]
