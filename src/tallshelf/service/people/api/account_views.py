"""Accounts over HTTP, for stewards; and accepting an invitation."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.service.people import accounts, actions, queries
from tallshelf.service.people.api import serializers as shapes
from tallshelf.service.people.permissions import require
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.rate_limit import SignIns


class PeopleView(Endpoint):
    """Every account."""

    answers_secrets = True

    @extend_schema(operation_id="list_people", responses=shapes.People)
    def get(self, request: Request) -> Response:
        require(actor_of(request), "administer")
        return Response({"results": queries.people()})

    @extend_schema(operation_id="add_person", request=shapes.NewPerson, responses={201: shapes.Invited})
    def post(self, request: Request) -> Response:
        """Add an account; a person's is used by an invitation."""
        person, code = accounts.add_account(actor_of(request), **validated_body(shapes.NewPerson, request))
        return Response({"username": person.username, "code": code}, status=201)


class PersonView(Endpoint):
    """One account."""

    @extend_schema(operation_id="change_person", request=shapes.PersonEdit, responses=shapes.People)
    def patch(self, request: Request, username: str) -> Response:
        accounts.change_account(actor_of(request), username, validated_body(shapes.PersonEdit, request))
        return Response({"results": queries.people()})


class InviteView(Endpoint):
    """An invitation to choose a (new) password."""

    answers_secrets = True

    @extend_schema(operation_id="invite", request=None, responses={201: shapes.Invited})
    def post(self, request: Request, username: str) -> Response:
        code = accounts.invite(actor_of(request), username)
        return Response({"username": username, "code": code}, status=201)


class PersonSessionsView(Endpoint):
    """The sign-ins of an account."""

    @extend_schema(operation_id="end_sessions", responses={204: None})
    def delete(self, request: Request, username: str) -> Response:
        accounts.end_sessions(actor_of(request), username)
        return Response(status=204)


class PersonTokensView(Endpoint):
    """Tokens of an account; a steward makes those of CI."""

    answers_secrets = True

    @extend_schema(operation_id="make_token_for", request=shapes.NewToken, responses={201: shapes.MadeToken})
    def post(self, request: Request, username: str) -> Response:
        require(actor_of(request), "administer")
        token, secret = actions.make_token(
            actor_of(request), **validated_body(shapes.NewToken, request), username=username
        )
        return Response({**shapes.TokenRow(token).data, "secret": secret}, status=201)


class AcceptanceView(Endpoint):
    """Choose a password by the code of an invitation, once."""

    answers_secrets = True

    permission_classes = [AllowAny]
    authentication_classes: list[Any] = []
    throttle_classes = [SignIns]

    @extend_schema(operation_id="accept_invite", request=shapes.Acceptance, responses={204: None})
    def post(self, request: Request) -> Response:
        accounts.accept_invite(**validated_body(shapes.Acceptance, request))
        return Response(status=204)
