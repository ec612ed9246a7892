"""The one contract of everything that can be undone: builds' colourings, sets, the drawer.

* Whoever changes something says which ``revision`` it was decided on. Where
  the thing has moved on, nothing is changed and ``Stale`` says what was
  changed meanwhile (HTTP 409 in words).
* Every edit, undo, redo and import carries an ``edit_key``. Sent twice, as
  after a lost answer, it is made once.
* All of it happens in one IMMEDIATE transaction, on rows read inside it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from django.db import transaction

from studio.history.models import Receipt

T = TypeVar("T")
MOST_RECEIPTS = 4000
# kept a maker; a browser sends again within seconds, or when it is opened the next day


class Stale(Exception):
    """A change was decided on something that has moved on; carries where it stands now."""

    def __init__(self, revision: int, label: str, what: str = "build") -> None:
        super().__init__(label)
        self.revision, self.label, self.what = revision, label, what


def check(asked: int | None, now: int, label: str | None, what: str) -> None:
    """Raise Stale unless the change was decided on what stands; None: the sender does not mind."""
    if asked is not None and asked != now:
        raise Stale(now, label or "another change", what)


def once(owner: Any, scope: str, edit_key: str, make: Callable[[], T], again: Callable[[str], T]) -> T:
    """``make`` unless a change with this key has arrived: then ``again``, given what that one made.

    Both run in a transaction of their own or the caller's; what ``make``
    answers is remembered by its ``pk`` where it has one.
    """
    with transaction.atomic():
        if edit_key:
            known = Receipt.objects.filter(owner=owner, scope=scope, edit_key=edit_key).first()
            if known is not None:
                return again(known.made)
        made = make()
        if edit_key:
            pk = getattr(made, "pk", None)
            Receipt.objects.create(owner=owner, scope=scope, edit_key=edit_key, made=str(pk or ""))
            _forget(owner)
        return made


def _forget(owner: Any) -> None:
    """The oldest receipts go."""
    last = Receipt.objects.filter(owner=owner).order_by("-pk").values_list("pk", flat=True)
    edge = list(last[MOST_RECEIPTS : MOST_RECEIPTS + 1])
    if edge:
        Receipt.objects.filter(owner=owner, pk__lte=edge[0]).delete()
