"""How passwords are kept: Argon2id with little memory, and only a few of them worked out at once."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore

from django.contrib.auth.hashers import Argon2PasswordHasher

AT_ONCE = 2


class Argon2Modest(Argon2PasswordHasher):
    """19 MiB and two rounds: OWASP's Password Storage Cheat Sheet (2024) for machines that must not be filled up.

    Django's 100 MiB times every thread is more than a small server has.
    """

    time_cost = 2
    memory_cost = 19_456
    parallelism = 1


_ROOM = BoundedSemaphore(AT_ONCE)


@contextmanager
def one_of_few() -> Iterator[None]:
    """Wait for room: who tries a hundred passwords waits for himself, and hardly anyone else."""
    with _ROOM:
        yield
