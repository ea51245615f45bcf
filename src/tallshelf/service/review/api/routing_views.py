"""Routing rules and desks over HTTP: translate, never decide."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from msgspec import to_builtins
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.service.people.permissions import require
from tallshelf.service.people.queries import desks
from tallshelf.service.review import actions, routing
from tallshelf.service.review.api import rule_serializers
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint


class RoutingView(Endpoint):
    """The routing rules in force."""

    @extend_schema(
        operation_id="get_routing",
        parameters=[OpenApiParameter("version", int, description="another version")],
        responses=rule_serializers.Routing,
    )
    def get(self, request: Request) -> Response:
        text = request.query_params.get("version", "")
        version = int(text) if text.isascii() and text.isdigit() and len(text) < 9 else None
        return Response(routing.rules_document(actor_of(request), version))

    @extend_schema(
        operation_id="apply_routing",
        request=rule_serializers.NewRouting,
        responses={201: rule_serializers.Routing},
    )
    def post(self, request: Request) -> Response:
        """Store routing rules; they are in force at once, or proposed when they ask less."""
        body = validated_body(rule_serializers.NewRouting, request)
        made = actions.apply_rules(actor_of(request), body["text"], body["note"], seen=body["seen"])
        return Response(routing.rules_document(actor_of(request), made.version), status=201)


class RoutingVersionsView(Endpoint):
    """Every version of the routing rules, newest first."""

    @extend_schema(operation_id="list_routing_versions", responses=rule_serializers.RoutingVersions)
    def get(self, request: Request) -> Response:
        return Response({"results": routing.versions(actor_of(request))})


class RoutingAnswerView(Endpoint):
    """Agree to proposed routing rules, or decline them."""

    @extend_schema(
        operation_id="answer_routing",
        request=rule_serializers.RoutingAnswer,
        responses=rule_serializers.Routing,
    )
    def post(self, request: Request, version: int) -> Response:
        body = validated_body(rule_serializers.RoutingAnswer, request)
        actions.answer_rules(actor_of(request), version, body["answer"], body["note"])
        return Response(routing.rules_document(actor_of(request), version))


class RoutingRehearsalView(Endpoint):
    """Try routing rules on past requests, storing nothing."""

    @extend_schema(
        operation_id="try_routing",
        request=rule_serializers.RoutingRehearsalAsked,
        responses=rule_serializers.RoutingRehearsal,
    )
    def post(self, request: Request) -> Response:
        body = validated_body(rule_serializers.RoutingRehearsalAsked, request)
        rehearsal, loose, wrong = routing.rehearsal(actor_of(request), body["text"], body["days"])
        return Response({**to_builtins(rehearsal), "loosened": loose, "faults": wrong})


class DesksView(Endpoint):
    """Every desk, with who sits there."""

    @extend_schema(operation_id="list_desks", responses=rule_serializers.Desks)
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see")
        return Response({"results": desks()})
