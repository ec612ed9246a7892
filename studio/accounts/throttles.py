"""How often something may be tried from one address; counted in a cache that a restart does not empty."""

from __future__ import annotations

from typing import Any

from rest_framework.throttling import SimpleRateThrottle

from studio.asked import address_of


class ByAddress(SimpleRateThrottle):
    """So many an hour from one address; ``scope`` names the rate."""

    def get_cache_key(self, request: Any, view: Any) -> str:
        """One count for each address."""
        return str(self.cache_format % {"scope": self.scope, "ident": address_of(request._request)})


class Accounts(ByAddress):
    """Accounts made from one address."""

    scope = "accounts"


class SigningIn(ByAddress):
    """Sign-ins tried from one address, whatever the names."""

    scope = "signing-in"
