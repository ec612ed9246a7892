"""A stand-in for a handheld colour reader, as a process of its own that speaks CGATS text."""

from strata.reader.device import Device

__all__ = ["Device"]
