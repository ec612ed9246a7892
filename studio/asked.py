"""What an address and its parameters may hold: asked in one place, refused in a sentence."""

from __future__ import annotations

from typing import Any, TypeVar

from django.conf import settings
from django.contrib.auth.models import User
from django.core.files.uploadedfile import UploadedFile
from django.http import HttpRequest, HttpResponse
from rest_framework import serializers
from rest_framework.exceptions import NotAuthenticated
from rest_framework.request import Request

from strata.errors import BadFile, BadValue, TooLarge, finite

Kept = TypeVar("Kept", bound=HttpResponse)

ONE_FILE = {
    "multipart/form-data": {
        "type": "object",
        "properties": {"file": {"type": "string", "format": "binary"}},
    }
}
# the body of a request that brings one file, for the schema


class RowNumber:
    """Path converter for the number of a row: what the database cannot hold is no address."""

    regex = "[0-9]{1,18}"

    def to_python(self, value: str) -> int:
        """The number."""
        return int(value)

    def to_url(self, value: int) -> str:
        """As it stands in an address."""
        return str(value)


def whole_parameter(request: Request, name: str, low: int, high: int) -> int | None:
    """A whole number among the query parameters, None where it is not given; raises BadValue."""
    text = request.query_params.get(name)
    if text is None:
        return None
    digits = text.removeprefix("-")
    if not (digits.isascii() and digits.isdigit() and len(digits) <= 18):
        raise BadValue(f"{name} must be a whole number.", name)
    return int(finite(int(text), name, low, high))


def kept_under(answer: Kept, request: Request, version: str) -> Kept:
    """An answer that a browser keeps for a day under an address with its version (``v``), and not at all under another's."""
    fresh = request.query_params.get("v") == version
    answer["Cache-Control"] = "private, max-age=86400" if fresh else "no-store"
    return answer


def maker(request: Request) -> User:
    """Who is signed in; raises NotAuthenticated for a stranger."""
    user = request.user
    if not isinstance(user, User):
        raise NotAuthenticated
    return user


def asked(kind: type[serializers.Serializer[Any]], request: Request, partial: bool = False) -> dict[str, Any]:
    """The values of a request as its serializer has them; raises DRF's ValidationError."""
    wanted = kind(data=request.data, partial=partial)
    wanted.is_valid(raise_exception=True)
    values: dict[str, Any] = wanted.validated_data
    return values


def sent_file(request: Request, what: str, most: int) -> UploadedFile[Any]:
    """The file that came with a request; raises BadFile where there is none, TooLarge over ``most`` bytes."""
    file: UploadedFile[Any] | None = request.FILES.get("file")
    if file is None:
        raise BadFile(f"No {what} came with that.", "file")
    if (file.size or 0) > most:
        raise TooLarge(f"This {what} is over {most // 1_000_000} MB.", "file")
    return file


def address_of(request: HttpRequest) -> str:
    """The address that a request comes from; behind the TLS proxy the one that the proxy added itself, the last."""
    if settings.SERVING.tls and (passed := request.META.get("HTTP_X_FORWARDED_FOR")):
        return str(passed.split(",")[-1].strip())[:64]
    return str(request.META.get("REMOTE_ADDR", ""))
