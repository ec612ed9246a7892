"""One JSON shape for everything refused: code, sentence, field."""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import PermissionDenied
from django.http import Http404
from rest_framework import exceptions, serializers, status
from rest_framework.response import Response
from rest_framework.views import exception_handler

from strata.errors import StrataError, TooLarge, UnknownName

log = logging.getLogger("django.studio")


class ErrorSerializer(serializers.Serializer[Any]):
    """What every refusal looks like."""

    code = serializers.CharField()
    sentence = serializers.CharField()
    field = serializers.CharField(allow_null=True)


class Stale(Exception):
    """A change was made against a build (or set) that has moved on; carries where it stands now."""

    def __init__(self, revision: int, label: str, what: str = "build") -> None:
        super().__init__(label)
        self.revision, self.label, self.what = revision, label, what


def _body(code: str, sentence: str, field: str | None = None) -> dict[str, Any]:
    return {"code": code, "sentence": sentence, "field": field}


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Core errors, Django's and DRF's, as one shape; anything else stays a 500 in the log."""
    if isinstance(error, Stale):
        sentence = f"This {error.what} was changed elsewhere: “{error.label}”. Here it is as it stands now."
        return Response(
            {**_body("stale", sentence, "revision"), "revision": error.revision}, status.HTTP_409_CONFLICT
        )
    if isinstance(error, StrataError):
        code = status.HTTP_400_BAD_REQUEST
        if isinstance(error, UnknownName):
            code = status.HTTP_404_NOT_FOUND
        if isinstance(error, TooLarge):
            code = status.HTTP_413_REQUEST_ENTITY_TOO_LARGE
        return Response(_body(error.code, error.sentence, error.field), code)
    if isinstance(error, Http404):
        return Response(
            _body("not_found", "That is not here, or it is not yours."), status.HTTP_404_NOT_FOUND
        )
    if isinstance(error, PermissionDenied):
        return Response(_body("forbidden", "That is not yours to change."), status.HTTP_403_FORBIDDEN)
    answer = exception_handler(error, context)
    if answer is not None and isinstance(error, exceptions.APIException):
        field, sentence = _first(error.detail)
        code = str(error.get_codes()) if isinstance(error.get_codes(), str) else "bad_value"
        answer.data = _body(code, sentence, field)
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
