"""A number for every request: what a person reads out when something went wrong, and what stands in the log beside it."""

from __future__ import annotations

import logging
import secrets
from collections.abc import Callable
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponse

_number: ContextVar[str] = ContextVar("number", default="-")
_LETTERS = "bcdfghjkmnpqrstvwxz23456789"
# no two that look alike when they are written down


def number() -> str:
    """The number of the request that is being answered; a dash where there is none."""
    return _number.get()


class Numbered:
    """Middleware: every answer carries its number."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._next = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        own = "".join(secrets.choice(_LETTERS) for _ in range(6))
        # it stands until the next one of this thread: Django writes its own line once all of this is over
        _number.set(own)
        answer = self._next(request)
        answer.headers["X-Request-Number"] = own
        return answer


class WithNumber(logging.Filter):
    """Puts the number of the request into what is logged for it."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Nothing is held back."""
        record.number = number()
        return True
