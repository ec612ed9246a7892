"""One JSON shape for everything refused: code, sentence, field."""

from __future__ import annotations

import errno
import logging
from typing import Any

from django.core.exceptions import (
    ObjectDoesNotExist,
    PermissionDenied,
    RequestDataTooBig,
    TooManyFieldsSent,
    TooManyFilesSent,
)
from django.db import DatabaseError
from django.http import Http404
from rest_framework import exceptions, serializers, status
from rest_framework.response import Response
from rest_framework.views import exception_handler, set_rollback

from strata.errors import Broken, StrataError, TooLarge, UnknownName
from studio.history.contract import Stale
from studio.numbered import number

log = logging.getLogger("studio.errors")

FULL = "The disk of the workshop computer is full. Nothing was lost; make room there, then try again."
OURS = "Something went wrong on our side. What you had is kept; try again."
UNHELD = "This holds a character or a number that cannot be kept."


class ErrorSerializer(serializers.Serializer[Any]):
    """What every refusal looks like."""

    code = serializers.CharField()
    sentence = serializers.CharField()
    field = serializers.CharField(allow_null=True)
    revision = serializers.IntegerField(required=False, help_text="where it stands, with a 409")


def ours() -> str:
    """What is said of a fault of ours, with the number by which it is found in the log."""
    return f"{OURS} If it happens again, tell who runs this the number {number()}."


def refusals(*codes: int) -> dict[int, type[ErrorSerializer]]:
    """The refusals that an operation documents; those that every operation can give are added by the schema."""
    return dict.fromkeys(codes, ErrorSerializer)


def body(code: str, sentence: str, field: str | None = None) -> dict[str, Any]:
    """The one shape."""
    return {"code": code, "sentence": sentence, "field": field}


def disk_is_full(error: BaseException | None) -> bool:
    """Whether an error, or what it came from, is a disk without room."""
    while error is not None:
        if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
            return True
        if isinstance(error, DatabaseError) and ("disk is full" in str(error) or "disk I/O" in str(error)):
            return True
        error = error.__cause__ or error.__context__
    return False


def _of_the_core(error: StrataError) -> Response:
    code: int = status.HTTP_400_BAD_REQUEST
    if isinstance(error, UnknownName):
        code = status.HTTP_404_NOT_FOUND
    if isinstance(error, TooLarge):
        code = status.HTTP_413_REQUEST_ENTITY_TOO_LARGE
    if isinstance(error, Broken):
        log.error("a fault of ours: %s", error.trace)
        code = status.HTTP_500_INTERNAL_SERVER_ERROR
        return Response(
            body(error.code, f"{error.sentence} The number {number()} finds it in the log."), code
        )
    return Response(body(error.code, error.sentence, error.field), code)


def _of_the_contract(error: Stale) -> Response:
    sentence = f"This {error.what} was changed elsewhere: “{error.label}”. Here it is as it stands now."
    answer = {**body("stale", sentence, "revision"), "revision": error.revision}
    return Response(answer, status.HTTP_409_CONFLICT)


_PLAIN: tuple[tuple[type[Exception], str, str, int], ...] = (
    (Http404, "not_found", "That is not here, or it is not yours.", 404),
    # gone between two reads of one answer
    (ObjectDoesNotExist, "not_found", "That is no longer here.", 404),
    (PermissionDenied, "forbidden", "That is not yours to change.", 403),
    (TooManyFieldsSent, "too_large", "Those are more fields than can be sent at once.", 413),
    (TooManyFilesSent, "too_large", "Those are more files than can be sent at once.", 413),
    (RequestDataTooBig, "too_large", "That is more than can be sent at once.", 413),
    # what got past the reader of requests; the database could not hold it
    (UnicodeEncodeError, "bad_value", UNHELD, 400),
    (OverflowError, "bad_value", UNHELD, 400),
)


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Core errors, Django's and DRF's, a full disk, and what nobody expected: all in one shape."""
    if isinstance(error, Stale):
        return _of_the_contract(error)
    if isinstance(error, StrataError):
        return _of_the_core(error)
    if isinstance(error, exceptions.APIException):
        return _of_rest(error, context)
    set_rollback()
    for kind, code, sentence, answered in _PLAIN:
        if isinstance(error, kind):
            return Response(body(code, sentence), answered)
    if disk_is_full(error):
        log.error("the disk is full: %s", error)
        return Response(body("disk_full", FULL), status.HTTP_507_INSUFFICIENT_STORAGE)
    log.error("an error nobody expected", exc_info=error)
    return Response(body("fault", ours()), status.HTTP_500_INTERNAL_SERVER_ERROR)


def _of_rest(error: exceptions.APIException, context: dict[str, Any]) -> Response | None:
    answer = exception_handler(error, context)
    if answer is not None:
        field, sentence = _first(error.detail)
        code = str(error.get_codes()) if isinstance(error.get_codes(), str) else "bad_value"
        answer.data = body(code, sentence, field)
    return answer


def _first(detail: Any, field: str | None = None) -> tuple[str | None, str]:
    """The first complaint in DRF's nested details, with the field it is about."""
    if isinstance(detail, dict):
        name, inner = next(iter(detail.items()))
        own = None if name in ("detail", "non_field_errors") else str(name)
        return _first(inner, ".".join(p for p in (field, own) if p) or None)
    if isinstance(detail, list):
        return _first(detail[0], field) if detail else (field, "That could not be read.")
    return field, str(detail)
