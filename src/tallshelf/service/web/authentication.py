"""Who is asking: built once here, as one `Actor`, for actions and queries alike."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.http import HttpResponse
from rest_framework.authentication import BaseAuthentication, CSRFCheck
from rest_framework.exceptions import PermissionDenied
from rest_framework.permissions import SAFE_METHODS

from tallshelf.core.errors import SignInNeeded
from tallshelf.service.people import actions
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.queries import actor_for
from tallshelf.service.people.sessions import use
from tallshelf.service.web.logs import note, request_id


def _no_response(request: Any) -> HttpResponse:
    """Stands for the view that Django's check would go on to."""
    return HttpResponse()


def _with_request(via: str) -> str:
    """Return by what somebody asks, with the request's id, as the ledger keeps it."""
    return f"{via} request:{request_id()}"[:100]


class TokenAuthentication(BaseAuthentication):
    """``Authorization: Bearer TOKEN``."""

    def authenticate(self, request: Any) -> tuple[Any, Actor] | None:
        kind, _, secret = request.META.get("HTTP_AUTHORIZATION", "").partition(" ")
        if kind.lower() != "bearer":
            return None
        actor = actions.actor_by_token(secret.strip(), acting=request.method not in SAFE_METHODS)
        if actor is None:
            raise SignInNeeded(
                "the token is unknown, expired or ended", remedy="Make a new one, or sign in again."
            )
        note(request, by=actor.username)
        actor = replace(actor, via=_with_request(actor.via))
        return actor, actor

    def authenticate_header(self, request: Any) -> str:
        return "Bearer"


class ConsoleSession(BaseAuthentication):
    """The console's session cookie, with a CSRF token on everything that changes something."""

    def authenticate(self, request: Any) -> tuple[Any, Actor] | None:
        person = getattr(request._request, "user", None)
        if person is None or not person.is_authenticated or not person.is_active:
            return None
        check = CSRFCheck(_no_response)
        check.process_request(request)
        reason = check.process_view(request, _no_response, (), {})
        if reason:
            raise PermissionDenied(f"CSRF check failed: {reason}")
        key = request._request.session.session_key or ""
        if not use(key, person.username, by_hand=getattr(request.parser_context["view"], "by_hand", True)):
            return None
        actor = actor_for(person, via=_with_request(f"session:{key[:8]}"))
        note(request, by=actor.username)
        return actor, actor
