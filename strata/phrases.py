"""Small pieces of which sentences are made."""

from __future__ import annotations

from collections.abc import Sequence


def first_up(text: str) -> str:
    """A sentence's first letter as a capital; names further on keep theirs."""
    return text[:1].upper() + text[1:]


def counted(count: int, noun: str) -> str:
    """One card, two cards: a figure with what it counts, for nouns that take an s."""
    return f"{count} {noun}{'' if count == 1 else 's'}"


def listed(names: Sequence[str]) -> str:
    """One, two and three; empty of nothing."""
    return ", ".join(names[:-1]) + " and " + names[-1] if len(names) > 1 else "".join(names)
