"""Things joined pair by pair into groups (union-find; Tarjan, JACM 22, 1975)."""

from __future__ import annotations


class Joined:
    """``count`` things, each a group of its own until joined."""

    def __init__(self, count: int) -> None:
        self._parent = list(range(count))

    def root(self, i: int) -> int:
        """The one thing that stands for the group of ``i``."""
        parent = self._parent
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = parent[i]
        return i

    def join(self, kept: int, given: int) -> None:
        """Put the group of root ``given`` under the root ``kept``."""
        self._parent[given] = kept
