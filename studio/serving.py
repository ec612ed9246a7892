"""How the application is put up: for whom, at which names, behind what; read from the environment in one place."""

from __future__ import annotations

import os
import socket
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
YEAR = 365 * 24 * 3600


@dataclass(frozen=True)
class Serving:
    """``hosts`` that are answered to; ``tls``: whether a proxy before it speaks TLS; ``origins`` trusted beside."""

    hosts: tuple[str, ...] = LOOPBACK
    tls: bool = False
    origins: tuple[str, ...] = ()

    def settings(self) -> dict[str, Any]:
        """Django's settings that follow from it."""
        common: dict[str, Any] = {
            "ALLOWED_HOSTS": list(self.hosts),
            "CSRF_TRUSTED_ORIGINS": list(self.origins),
            "SECURE_REFERRER_POLICY": "same-origin",
        }
        if not self.tls:
            # in a household over http there is nothing that these could do: no certificate, so no HSTS and no secure cookie
            return {**common, "SILENCED_SYSTEM_CHECKS": [f"security.W{n:03}" for n in (4, 8, 12, 16)]}
        return {
            **common,
            "SECURE_PROXY_SSL_HEADER": ("HTTP_X_FORWARDED_PROTO", "https"),
            "SECURE_SSL_REDIRECT": True,
            # asked over http from this machine itself, without a proxy
            "SECURE_REDIRECT_EXEMPT": [r"^api/health$"],
            "SESSION_COOKIE_SECURE": True,
            "CSRF_COOKIE_SECURE": True,
            "SECURE_HSTS_SECONDS": YEAR,
            "SECURE_HSTS_INCLUDE_SUBDOMAINS": True,
            "SECURE_HSTS_PRELOAD": True,
        }


def serving(environment: Mapping[str, str]) -> Serving:
    """From ANASTRATA_HOSTS (names, with commas), ANASTRATA_TLS (1) and ANASTRATA_ORIGINS."""

    def listed(name: str) -> tuple[str, ...]:
        return tuple(part.strip() for part in environment.get(name, "").split(",") if part.strip())

    tls = environment.get("ANASTRATA_TLS") == "1"
    hosts = tuple(dict.fromkeys([*listed("ANASTRATA_HOSTS"), *LOOPBACK]))
    origins = listed("ANASTRATA_ORIGINS")
    if tls and not origins:
        origins = tuple(f"https://{h.lstrip('.')}" for h in hosts if h not in LOOPBACK and h != "*")
    return Serving(hosts, tls, origins)


def addresses_here() -> list[str]:
    """The addresses at which this machine is reached in its own network, the one that the network would use first."""
    found: list[str] = []
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            # nothing is sent: the system only says which of its addresses it would send from
            probe.connect(("192.0.2.1", 9))
            found.append(probe.getsockname()[0])
        except OSError:
            pass
    try:
        known = socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)
    except OSError:
        known = []
    found += [str(entry[4][0]) for entry in known]
    return [a for a in dict.fromkeys(found) if not a.startswith("127.")]


def served_at() -> list[str]:
    """The addresses that a tablet in the same network types, as ``tools/serve.py`` left them; empty on this machine alone."""
    return [a for a in os.environ.get("ANASTRATA_SERVED_AT", "").split(" ") if a]
