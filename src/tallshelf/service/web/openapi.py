"""How our two ways of signing in are written down in the OpenAPI document."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from drf_spectacular.extensions import OpenApiAuthenticationExtension


class TokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """A bearer token."""

    target_class = "tallshelf.service.web.authentication.TokenAuthentication"
    name = "token"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "http", "scheme": "bearer"}


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """The console's session cookie."""

    target_class = "tallshelf.service.web.authentication.ConsoleSession"
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "apiKey", "in": "cookie", "name": settings.SESSION_COOKIE_NAME}
