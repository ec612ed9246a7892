"""What may be sent at all, before anything of it is read: how much, by whom, and how often."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.cache import cache
from django.db.models import Sum
from django.db.models.functions import Length
from django.http import HttpRequest, HttpResponse, JsonResponse

from strata.errors import TooLarge
from studio.errors import body

MOST_SENT = 410_000_000
# bytes: an archive of an account is the largest
FULL = "This house is full. Whoever runs it can make room, or allow it more."
KNOWN_FOR = 30
# seconds that what a maker has is taken as counted
PERMISSIONS = "camera=(self), microphone=(), geolocation=(), payment=(), usb=(), screen-wake-lock=(self)"
Next = Callable[[HttpRequest], HttpResponse]


class Bounded:
    """Middleware: what is too large, or over a maker's quota, is refused by its length, before a byte is written."""

    def __init__(self, get_response: Next) -> None:
        self._next = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        refused = self._refused(request)
        answer = self._next(request) if refused is None else refused
        answer.headers.setdefault("Permissions-Policy", PERMISSIONS)
        return answer

    def _refused(self, request: HttpRequest) -> HttpResponse | None:
        if request.method in ("GET", "HEAD", "OPTIONS"):
            return None
        if "chunked" in request.META.get("HTTP_TRANSFER_ENCODING", "").lower():
            return _said("length_required", "Say how long it is before you send it.", 411)
        length = int(request.META.get("CONTENT_LENGTH") or 0)
        if length > (MOST_SENT if request.user.is_authenticated else settings.STRANGERS):
            return _said("too_large", "That is more than can be sent at once.", 413)
        sends_files = request.META.get("CONTENT_TYPE", "").startswith("multipart/")
        if sends_files and request.user.is_authenticated and kept_by(request.user) + length > settings.QUOTA:
            return _said("too_large", str(over_quota().sentence), 413)
        if sends_files and settings.WHOLE and kept_by_all() + length > settings.WHOLE:
            return _said("too_large", FULL, 413)
        return None


def _said(code: str, sentence: str, status: int) -> HttpResponse:
    return JsonResponse(body(code, sentence), status=status)


def over_quota() -> TooLarge:
    """What is said to a maker who has no room left."""
    megabytes = settings.QUOTA // 1_000_000
    return TooLarge(
        f"Your {megabytes} MB are full. Take photographs or sets away, or ask who runs this for more.", "file"
    )


def kept_by(owner: Any) -> int:
    """Bytes of pictures and drawings that a maker keeps; counted anew every half minute at the most."""
    key = f"kept-by-{owner.pk}"
    known = cache.get(key)
    if known is None:
        known = _counted(owner)
        cache.set(key, known, KNOWN_FOR)
    return int(known)


def kept_by_all() -> int:
    """Bytes of the data folder without its backups, for all makers; counted anew every half minute at the most."""
    known = cache.get("kept-by-all")
    if known is None:
        known = sum(_size(p) for p in settings.DATA_DIR.iterdir() if p.name != "backups")
        cache.set("kept-by-all", known, KNOWN_FOR)
    return int(known)


def _size(place: Path) -> int:
    """Bytes of a file, or of all in a folder; what goes away meanwhile is nothing."""
    try:
        return place.stat().st_size if place.is_file() else sum(_size(p) for p in place.iterdir())
    except OSError:
        return 0


def _counted(owner: Any) -> int:
    from studio.bench.models import Photograph, Record, TablePhotograph
    from studio.sets.models import SetPicture

    fields = (
        (Photograph, "record__owner", "content"),
        (TablePhotograph, "making__colouring__build__owner", "content"),
        (Record, "owner", "picture"),
        (SetPicture, "layer_set__owner", "data"),
    )
    total = 0
    for model, way, field in fields:
        found = model._default_manager.filter(**{way: owner}).aggregate(bytes=Sum(Length(field)))
        total += found["bytes"] or 0
    return total
