"""The demo's automatic sign-in: in demo mode only, from the loopback address only."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable

from django.conf import settings
from django.contrib.auth import get_user_model
from django.http import HttpRequest, HttpResponse

DEMO_NAME = "lockside"
PASSED_ON = tuple(
    "HTTP_" + name.upper().replace("-", "_")
    for name in (
        "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "X-Forwarded-Server", "X-Forwarded-Port",
        "Forwarded", "Via", "X-Real-IP", "X-Client-IP", "True-Client-IP", "CF-Connecting-IP", "Fastly-Client-IP",
        "X-Cluster-Client-IP", "X-Original-Host", "Client-IP",
    )
)  # fmt: skip
# what proxies add; straight from a browser none of them comes
HERE = ("127.0.0.1", "localhost", "[::1]", "testserver")
STAY_OUT = "anastrata_stay_out"
# cookie set by signing out, so that the demo does not sign in again at once


def from_this_machine(request: HttpRequest) -> bool:
    """True for a request straight from loopback, to a name of this machine, not passed on by a proxy of any kind."""
    if any(name in request.META for name in PASSED_ON) or request.get_host().rsplit(":", 1)[0] not in HERE:
        return False
    try:
        return ipaddress.ip_address(request.META.get("REMOTE_ADDR", "")).is_loopback
    except ValueError:
        return False


class DemoSignIn:
    """Middleware that lets the demo maker in where that is allowed; without a session, so that nothing piles up."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._next = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        wanted = settings.DEMO_MODE and not request.user.is_authenticated and STAY_OUT not in request.COOKIES
        if wanted and from_this_machine(request):
            maker = get_user_model().objects.filter(username=DEMO_NAME).first()
            if maker is not None:
                request.user = maker
        return self._next(request)
