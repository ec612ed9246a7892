"""Links that make an account or a new password: made by who runs the house, used once, within a week."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from strata.errors import BadValue, UnknownName
from studio.accounts.models import House, Invitation
from studio.accounts.owner import real_makers

DAYS = 7
MOST = 100
# that wait to be used
WORN_OUT = "That link was used already, or is too old. Ask for another one."


def _hashed(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def invite(owner: Any, said: str = "", reset: Any = None) -> tuple[Invitation, str]:
    """A new link and its token, which is told once and kept nowhere; raises BadValue where too many wait."""
    if Invitation.objects.filter(used=None, expires__gt=timezone.now()).count() >= MOST:
        raise BadValue("There are very many invitations out. Take some back first.")
    token = secrets.token_urlsafe(24)
    row = Invitation.objects.create(
        hashed=_hashed(token),
        made_by=owner,
        reset=reset,
        said=said,
        expires=timezone.now() + timedelta(days=DAYS),
    )
    return row, token


def found(token: str) -> Invitation | None:
    """The link of that token, if it can still be used."""
    row = Invitation.objects.select_related("reset").filter(hashed=_hashed(token)).first() if token else None
    return row if row is not None and row.valid else None


def anybody_here() -> bool:
    """Whether there is an account at all: the first one needs no invitation, and runs the house."""
    return real_makers().exists()


def may_join(token: str, demo: bool = False) -> Invitation | None:
    """The invitation that lets somebody make an account; None where none is needed, as in the demo. Raises BadValue."""
    if demo or not anybody_here() or House.is_open():
        return None
    row = found(token)
    if row is None or row.reset is not None:
        said = WORN_OUT if token else "Accounts are made by invitation here. Ask who runs it for a link."
        raise BadValue(said, "token")
    return row


@transaction.atomic
def use(row: Invitation | None) -> None:
    """It cannot be used again; raises BadValue where somebody was quicker."""
    if row is None:
        return
    if not Invitation.objects.filter(pk=row.pk, used=None).update(used=timezone.now()):
        raise BadValue(WORN_OUT, "token")


def take_back(pk: int) -> None:
    """A link that was not used is worth nothing any more; raises UnknownName."""
    if not Invitation.objects.filter(pk=pk, used=None).delete()[0]:
        raise UnknownName("That invitation is no longer open.")
