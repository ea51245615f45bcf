"""Sign-in, tokens and teams over HTTP."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, logout, update_session_auth_hash
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.errors import SignInNeeded
from tallshelf.service.people import actions, oidc, queries, sessions
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.api import serializers as shapes
from tallshelf.service.people.models import Person
from tallshelf.service.people.passwords import need_passwords
from tallshelf.service.people.queries import actor_for
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.logs import note
from tallshelf.service.web.rate_limit import SignIns


def me(actor: Actor) -> dict[str, Any]:
    return {
        "username": actor.username,
        "name": actor.name,
        "role": actor.role,
        "teams": sorted(actor.teams),
        "desks": sorted(actor.desks),
    }


class SessionView(Endpoint):
    """The console's session, and who a token belongs to."""

    answers_secrets = True

    def get_permissions(self) -> list[Any]:
        return [AllowAny()] if self.request.method in ("GET", "POST") else list(super().get_permissions())

    def get_authenticators(self) -> list[Any]:
        return [] if self.request and self.request.method == "POST" else super().get_authenticators()

    def get_throttles(self) -> list[Any]:
        return [SignIns()] if self.request.method == "POST" else list(super().get_throttles())

    @extend_schema(operation_id="who_am_i", responses=shapes.Session)
    def get(self, request: Request) -> Response:
        """Who is signed in: null for nobody, so that a sign-in page need not provoke an error."""
        return Response({"person": me(actor_of(request)) if request.user else None, **_ways()})

    @extend_schema(operation_id="sign_in", request=shapes.SignIn, responses=shapes.Session)
    def post(self, request: Request) -> Response:
        need_passwords()
        body = validated_body(shapes.SignIn, request)
        person = authenticate(request._request, **body)
        if person is None:
            if Person.objects.filter(username=body["username"]).exists():  # else it may be a password
                note(request, tried=body["username"])
            raise SignInNeeded("the name or the password is wrong", remedy="Check both; capitals count.")
        note(request, by=person.username)
        sessions.sign_in(request._request, person)
        return Response({"person": me(actor_for(person, via="session")), **_ways()})

    @extend_schema(operation_id="sign_out", responses={204: None})
    def delete(self, request: Request) -> Response:
        sessions.forget_session(_session_key(request))
        logout(request._request)
        return Response(status=204)


def _ways() -> dict[str, str | bool | None]:
    elsewhere = settings.CONFIG.oidc_label if oidc.is_on() else None
    return {"elsewhere": elsewhere, "passwords": settings.CONFIG.passwords}


def _session_key(request: Request) -> str:
    return getattr(request._request.session, "session_key", "") or ""


class PasswordView(Endpoint):
    """One's own password."""

    answers_secrets = True

    throttle_classes = [SignIns]

    @extend_schema(operation_id="change_password", request=shapes.NewPassword, responses={204: None})
    def post(self, request: Request) -> Response:
        body = validated_body(shapes.NewPassword, request)
        sessions.change_password(actor_of(request), **body, keep=_session_key(request))
        if _session_key(request):
            # The session's key is renewed with the password; it stays in the list under the new one.
            person = Person.objects.get(pk=actor_of(request).id)
            sessions.forget_session(_session_key(request))
            request._request.user = person  # REST framework has put our actor there
            update_session_auth_hash(request._request, person)
            sessions.keep_session(person, _session_key(request), request.headers.get("User-Agent", ""))
        return Response(status=204)


class SessionsView(Endpoint):
    """One's own sign-ins to the console."""

    @extend_schema(operation_id="list_sessions", responses=shapes.SessionsPage)
    def get(self, request: Request) -> Response:
        rows = queries.sessions_of(actor_of(request), _session_key(request))
        return Response({"results": rows, "next": None})


class OneSessionView(Endpoint):
    """One sign-in of one's own."""

    @extend_schema(operation_id="end_session", responses={204: None})
    def delete(self, request: Request, number: int) -> Response:
        sessions.end_session(actor_of(request), number)
        return Response(status=204)


class TokensView(Endpoint):
    """One's own tokens."""

    answers_secrets = True

    @extend_schema(operation_id="list_tokens", responses=shapes.TokensPage)
    def get(self, request: Request) -> Response:
        return Response({"results": queries.tokens_of(actor_of(request)), "next": None})

    @extend_schema(operation_id="make_token", request=shapes.NewToken, responses={201: shapes.MadeToken})
    def post(self, request: Request) -> Response:
        body = validated_body(shapes.NewToken, request)
        token, secret = actions.make_token(actor_of(request), **body)
        return Response({**shapes.TokenRow(token).data, "secret": secret}, status=201)


class TokenView(Endpoint):
    """One token of one's own."""

    @extend_schema(operation_id="end_token", responses={204: None})
    def delete(self, request: Request, number: int) -> Response:
        actions.end_token(actor_of(request), number)
        return Response(status=204)


class DeputiesView(Endpoint):
    """Who signs in whose place: of and for the asker, for curators of all."""

    @extend_schema(operation_id="list_deputies", responses=shapes.Deputies)
    def get(self, request: Request) -> Response:
        return Response({"results": queries.deputies(actor_of(request))})

    @extend_schema(operation_id="name_deputy", request=shapes.NewDeputy, responses={201: shapes.Deputies})
    def post(self, request: Request) -> Response:
        """Name who signs in one's place while one is away."""
        body = validated_body(shapes.NewDeputy, request)
        actions.name_deputy(actor_of(request), **body)
        return Response({"results": queries.deputies(actor_of(request))}, status=201)


class DeputyView(Endpoint):
    """One deputy of one's own."""

    @extend_schema(operation_id="end_deputy", responses={204: None})
    def delete(self, request: Request, number: int) -> Response:
        actions.end_deputy(actor_of(request), number)
        return Response(status=204)


class TeamsView(Endpoint):
    """All teams."""

    @extend_schema(operation_id="list_teams", responses=shapes.TeamsPage)
    def get(self, request: Request) -> Response:
        return Response({"results": queries.teams(actor_of(request)), "next": None})
