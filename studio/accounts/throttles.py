"""How often something may be tried from one address; counted in a cache that a restart does not empty."""

from __future__ import annotations

from typing import Any

from rest_framework.throttling import SimpleRateThrottle

from studio.asked import address_of


class ByAddress(SimpleRateThrottle):
    """So many an hour from one address; ``scope`` names the rate."""

    def allow_request(self, request: Any, view: Any) -> bool:
        """Whether it may be tried once more. Tries of the future, which a clock that was set back leaves behind, are
        forgotten: they would count until it has caught up."""
        key, now = self.get_cache_key(request, view), self.timer()
        held = self.cache.get(key, [])
        if held and held[0] > now:
            self.cache.set(key, [at for at in held if at <= now], getattr(self, "duration", None))
        return super().allow_request(request, view)

    def get_cache_key(self, request: Any, view: Any) -> str:
        """One count for each address."""
        return str(self.cache_format % {"scope": self.scope, "ident": address_of(request._request)})


class Accounts(ByAddress):
    """Accounts made from one address."""

    scope = "accounts"


class SigningIn(ByAddress):
    """Sign-ins tried from one address, whatever the names."""

    scope = "signing-in"
