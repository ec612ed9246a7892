"""A handheld colour reader: readings as CGATS text, averaged, and one to try things with."""

from strata.reader.averaging import Averaged, averaged
from strata.reader.text import Reading, read_readings, write_readings

__all__ = ["Averaged", "Reading", "averaged", "read_readings", "write_readings"]
