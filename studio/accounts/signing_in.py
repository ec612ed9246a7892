"""Who somebody is, and what happens to who guesses."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from axes.models import AccessAttempt
from django.contrib.auth import authenticate
from django.contrib.sessions.models import Session
from django.http import HttpRequest, JsonResponse
from django.utils import timezone

from studio.accounts.names import called
from studio.accounts.passwords import one_of_few
from studio.errors import body

LOCKED = "That was wrong too often. Wait a quarter of an hour, or ask who runs this for a new password."


def known(request: HttpRequest, name: str, password: str) -> Any:
    """The maker of that name and password, whatever the case of the name; None where they do not belong together."""
    maker = called(name)
    # wrong words of the future, which a clock that was set back leaves behind, would lock her out until it has caught up
    AccessAttempt.objects.filter(attempt_time__gt=timezone.now() + timedelta(minutes=1)).delete()
    with one_of_few():
        return authenticate(
            request, username=maker.get_username() if maker is not None else name, password=password
        )


def locked_out(request: HttpRequest, *_: Any, **__: Any) -> JsonResponse:
    """The answer to who was wrong too often."""
    del request
    return JsonResponse(body("throttled", LOCKED, "password"), status=429)


def sign_out_everywhere(maker: Any, but: str | None = None) -> int:
    """End every session of a maker, on whatever device; ``but``: the key of one that stays. How many were ended."""
    own = [
        s.pk
        for s in Session.objects.filter(expire_date__gt=timezone.now()).iterator()
        if s.session_key != but and str(s.get_decoded().get("_auth_user_id")) == str(maker.pk)
    ]
    return int(Session.objects.filter(pk__in=own).delete()[0])
