"""The tree of errors of the core: a stable code, a sentence for the maker, the field at fault."""

from __future__ import annotations


class StrataError(Exception):
    """Anything the core refuses.

    ``code`` is stable and for programs, ``sentence`` is for people,
    ``field`` names the value at fault where there is one.
    """

    code = "refused"

    def __init__(self, sentence: str, field: str | None = None) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.field = field


class BadValue(StrataError):
    """A value outside its domain."""

    code = "bad_value"


class UnknownName(StrataError):
    """A reference to an ink, pass, element or sheet that is not there."""

    code = "unknown_name"


class BadFile(StrataError):
    """A file that cannot be read as what it claims to be."""

    code = "bad_file"


class NotTheSame(BadFile):
    """Files that were said to show one thing and do not."""

    code = "not_the_same"


class TooLarge(StrataError):
    """More than the core is willing to work on at once."""

    code = "too_large"


class Broken(StrataError):
    """A fault of ours, not of what was asked; ``trace`` is for the log."""

    code = "fault"

    def __init__(self, sentence: str, trace: str = "") -> None:
        super().__init__(sentence)
        self.trace = trace


def finite(value: object, field: str, low: float, high: float) -> float:
    """``value`` as a float within ``low``..``high``; raises BadValue naming ``field``."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise BadValue(f"{field} must be a number.", field)
    number = float(value)
    if not low <= number <= high:  # also refuses NaN and both infinities
        raise BadValue(f"{field} must lie between {low:g} and {high:g}, not {value}.", field)
    return number
