"""What stands before every request: the shape of refusals, room on the disk, and JSON that can be kept."""

from __future__ import annotations

import gzip
import json
import math
import re
import shutil
from collections.abc import Callable, Mapping
from typing import IO, Any

import brotli
from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware
from django.utils.cache import patch_vary_headers
from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

from studio.errors import FULL, UNHELD, body, ours

Next = Callable[[HttpRequest], HttpResponse]
LEAST_FREE = 24_000_000
# bytes: below it nothing is written any more. SQLite maps its index of the log into memory, and on some file
# systems a full disk then ends the process instead of failing the write
MOST_DEEP = 64
# levels of JSON; ours have eight
MOST_WHOLE = 2**63 - 1
# what SQLite can hold
SAID = {
    400: ("bad_request", "That could not be read."),
    403: ("forbidden", "This page has been open too long to be trusted with a change; load it again."),
    404: ("not_found", "There is nothing at this address."),
    405: ("method_not_allowed", "That cannot be done at this address."),
    413: ("too_large", "That is more than can be sent at once."),
    500: ("fault", ""),
}
_SAFE = ("GET", "HEAD", "OPTIONS")
LARGE = 64_000
# bytes
_TAKES = {name: re.compile(rf"\b{name}\b(?!\s*;\s*q=0(?:\.0*)?\s*(?:,|$))") for name in ("br", "gzip")}
_PACKED: dict[str, Callable[[bytes], bytes]] = {
    "br": lambda data: brotli.compress(data, quality=4),
    "gzip": lambda data: gzip.compress(data, 3),
}


class Bodiless:
    """Middleware: what is asked by HEAD is answered without a body, as long as it would have been."""

    def __init__(self, get_response: Next) -> None:
        self._next = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self._next(request)
        if request.method == "HEAD" and not answer.streaming:
            answer.headers["Content-Length"] = str(len(answer.content))
            answer.content = b""
        return answer


class OneShape:
    """Middleware: under api/ every refusal is JSON in the one shape, whichever part of Django gave it."""

    def __init__(self, get_response: Next) -> None:
        self._next = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self._next(request)
        if answer.status_code < 400 or not request.path.startswith("/api/"):
            return answer
        if answer.get("Content-Type", "").startswith("application/json"):
            return answer
        code, sentence = SAID.get(answer.status_code, SAID[400 if answer.status_code < 500 else 500])
        shaped = JsonResponse(body(code, sentence or ours()), status=answer.status_code)
        for name in ("Allow", "WWW-Authenticate"):
            if name in answer:
                shaped[name] = answer[name]
        return shaped


class RoomOnDisk:
    """Middleware: a change that the disk has no room for is refused before anything is begun."""

    def __init__(self, get_response: Next) -> None:
        self._next = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method not in _SAFE and request.path.startswith("/api/") and free_bytes() < LEAST_FREE:
            return JsonResponse(body("disk_full", FULL), status=507)
        return self._next(request)


def free_bytes() -> int:
    """What the disk that holds the data has left."""
    return shutil.disk_usage(settings.DATA_DIR).free


class KeepableJSON(JSONParser):
    """JSON that the database can hold: no lone surrogates, no endless numbers, no depths that nobody meant."""

    def parse(
        self, stream: IO[Any], media_type: Any = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """The value; raises DRF's ParseError."""
        try:
            value = json.loads(stream.read().decode("utf-8"), parse_constant=_refuse)
        except RecursionError as error:
            raise ParseError("This is nested too deeply to be meant.") from error
        except UnicodeDecodeError as error:
            raise ParseError("This is not text in UTF-8.") from error
        except ValueError as error:
            raise ParseError(f"This is not JSON: {error}") from error
        _check(value, 0)
        return value


def _refuse(name: str) -> None:
    raise ParseError(f"{name} is not a number.")


def _check(value: Any, depth: int) -> None:
    if depth > MOST_DEEP:
        raise ParseError("This is nested too deeply to be meant.")
    if not _held(value):
        raise ParseError(UNHELD)
    inner = (
        [*value.keys(), *value.values()]
        if isinstance(value, dict)
        else value
        if isinstance(value, list)
        else ()
    )
    for part in inner:
        _check(part, depth + 1)


def _held(value: Any) -> bool:
    """Whether a single value can be kept: no lone half of a surrogate pair, no number beyond SQLite's."""
    if isinstance(value, int):
        return abs(value) <= MOST_WHOLE
    if isinstance(value, float):
        return math.isfinite(value)
    if isinstance(value, str) and not value.isascii():
        try:
            value.encode()
        except UnicodeEncodeError:
            return False
    return True


def refused_as_forged(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Django's CSRF refusal in the one shape."""
    del request, reason
    code, sentence = SAID[403]
    return JsonResponse(body(code, sentence), status=403)


class Compressed(GZipMiddleware):
    """Middleware: JSON and pages go out compressed; pictures, drawings' zips and PDFs are already.

    What is large is packed in a third of the time: by Brotli where a browser
    takes it, which makes of a large set half of what gzip does, else by a
    lower level of gzip. Such answers hold no secret, so that nothing is told
    by their length; all others are Django's, which hides theirs.
    """

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        """Compress what gains by it."""
        kind = response.get("Content-Type", "")
        if not kind.startswith(("application/json", "text/", "image/svg")):
            return response
        taken = request.headers.get("Accept-Encoding", "")
        packing = next((name for name, said in _TAKES.items() if said.search(taken)), None)
        if packing and isinstance(response, HttpResponse) and _large(response):
            response.content = _PACKED[packing](response.content)
            response.headers["Content-Length"] = str(len(response.content))
            response.headers["Content-Encoding"] = packing
            patch_vary_headers(response, ("Accept-Encoding",))
            return response
        return super().process_response(request, response)


def _large(response: HttpResponse) -> bool:
    return not response.has_header("Content-Encoding") and len(response.content) >= LARGE
