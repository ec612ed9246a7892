"""Session sign-in that answers 401 rather than 403 to a stranger."""

from __future__ import annotations

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework.authentication import SessionAuthentication
from rest_framework.request import Request


class SignedIn(SessionAuthentication):
    """Django's session with CSRF."""

    def authenticate_header(self, request: Request) -> str:
        return "Session"


class SignedInScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """Its name in the schema."""

    target_class = "studio.accounts.sessions.SignedIn"
    name = "session"

    def get_security_definition(self, auto_schema: object) -> dict[str, str]:
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}
