"""The one way in which results are kept: bounded in bytes, made outside the lock, each by one maker."""

from __future__ import annotations

import os
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")

_SHARE = max(1, int(os.environ.get("ANASTRATA_PROCESSES") or 1))
# processes that keep their own, and share the machine's memory


class Kept(Generic[K, V]):
    """Results by key, the least recently used let go past ``most`` bytes (of all processes) as ``size`` counts them.

    A result that is larger than all of it is handed out and not kept. What is
    asked for while another thread makes it is waited for; other keys are not.
    """

    def __init__(self, most: int, size: Callable[[V], int]) -> None:
        self._kept: LRUCache[K, V] = LRUCache(most // _SHARE, size)
        self._making: dict[K, Future[V]] = {}
        self._lock = Lock()

    def get(self, key: K, make: Callable[[], V]) -> V:
        """The result of ``key``; ``make`` is called where it is not kept, and raises to all who wait for it."""
        with self._lock:
            if key in self._kept:
                return self._kept[key]
            under_way = self._making.get(key)
            if under_way is None:
                mine = self._making[key] = Future[V]()
        if under_way is not None:
            return under_way.result()
        try:
            made = make()
        except BaseException as error:
            with self._lock:
                del self._making[key]
            mine.set_exception(error)
            raise
        with self._lock:
            self._put(key, made)
            del self._making[key]
        mine.set_result(made)
        return made

    def seen(self, key: K) -> V | None:
        """The result if it is kept."""
        with self._lock:
            return self._kept.get(key)

    def put(self, key: K, value: V) -> V:
        """Keep a result that was made elsewhere; the one that is kept already stays."""
        with self._lock:
            if key in self._kept:
                return self._kept[key]
            self._put(key, value)
        return value

    def renew(self, key: K, value: V) -> None:
        """Keep a result in place of the one that is kept: of keys whose latest result is wanted."""
        with self._lock:
            self._put(key, value)

    def _put(self, key: K, value: V) -> None:
        if self._kept.getsizeof(value) <= self._kept.maxsize:
            self._kept[key] = value

    def values(self) -> list[V]:
        """Everything that is kept, from the least recently used on; looking counts as no use."""
        with self._lock:
            order = list(self._kept)
            return [self._kept[key] for key in order]  # asked for in their order, they keep it

    def clear(self) -> None:
        """Let go of everything."""
        with self._lock:
            self._kept.clear()

    @property
    def size(self) -> int:
        """Bytes kept."""
        with self._lock:
            return int(self._kept.currsize)
