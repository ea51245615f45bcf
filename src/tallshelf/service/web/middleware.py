"""Security headers on every answer."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; "
    "font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
# What speaks of people is not kept by the browser at all; the catalog may be, if it is asked for anew.
_NOT_KEPT = tuple(
    f"/api/v1/{name}"
    for name in ("people", "session", "tokens", "deputies", "inbox", "invitation", "password", "ledger")
)


class SecurityHeaders:
    """Adds a strict content security policy, and how long answers may be kept; Django adds the other headers."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self._get_response(request)
        response.setdefault("Content-Security-Policy", _POLICY)
        if request.path.startswith("/api/"):
            kept = "no-store" if request.path.startswith(_NOT_KEPT) else "private, no-cache"
            response.setdefault("Cache-Control", kept)
        return response


class Compressed(GZipMiddleware):
    """Compresses answers of the API, but for those that may hold a secret: beside what was sent, length would tell.

    Others get a length of chance as well (Django's mitigation of BREACH).
    """

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        """Return the answer, compressed where it may be."""
        view = getattr(request.resolver_match, "func", None)
        secret = getattr(getattr(view, "cls", None), "answers_secrets", True)
        return response if secret or response.streaming else super().process_response(request, response)
