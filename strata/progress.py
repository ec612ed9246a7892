"""How long work says how far it is: the share that is done (0..1), and what is being done, in words."""

from __future__ import annotations

from collections.abc import Callable

Progress = Callable[[float, str], None]


def quiet(share: float, doing: str) -> None:
    """For work that nobody follows."""
    del share, doing
