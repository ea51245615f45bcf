"""Overlaps and rulings over HTTP: translate, never decide."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.reports import mix_up_document, overlaps_document
from tallshelf.core.snapshot import snapshot_from
from tallshelf.service.catalog import actions, queries
from tallshelf.service.catalog.api import overlap_serializers as shapes
from tallshelf.service.catalog.overlap import layout, rulings, worklist
from tallshelf.service.people.permissions import require
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.openapi import component
from tallshelf.service.web.paging import Order, page_of

_GROUPS = Order(key="key", columns={"strength": "key"}, default="strength")
_RULINGS = Order(
    key="pk", columns={"number": "pk", "changed_at": "changed_at"}, default="-number", changed="changed_at"
)


class OverlapsView(Endpoint):
    """What the items of a release overlap with in other servers and among themselves."""

    @extend_schema(operation_id="list_overlaps", responses={200: component("Overlaps")})
    def get(self, request: Request, slug: str, version: str) -> Response:
        release = queries.release(actor_of(request), slug, version)
        return Response(overlaps_document(*queries.overlaps_of(release)))


class CatalogOverlapsView(Endpoint):
    """The overlaps of the whole catalog, gathered by the two servers they are between."""

    @extend_schema(
        operation_id="list_overlap_groups",
        parameters=[
            OpenApiParameter(
                "state",
                enum=["open", "ruled"],
                description="a same job without, or anything with, a ruling in force",
            ),
            OpenApiParameter("class", enum=["same-job", "near"]),
            OpenApiParameter("team"),
            OpenApiParameter("within", bool, description="what one server has twice, instead"),
            *_GROUPS.parameters,
        ],
        responses=shapes.Groups,
    )
    def get(self, request: Request) -> Response:
        asked = request.query_params
        groups = worklist.work_list(
            actor_of(request),
            state=asked.get("state", ""),
            cls=asked.get("class", ""),
            team=asked.get("team", ""),
            within=asked.get("within") == "true",
        )
        page, following = page_of(request, groups, _GROUPS)
        return Response({"groups": worklist.rows_of(actor_of(request), page), "next": following})

    @extend_schema(
        operation_id="check_overlaps", request=shapes.DryOverlaps, responses={200: component("Overlaps")}
    )
    def post(self, request: Request) -> Response:
        """Look for what a snapshot overlaps with in the catalog, storing nothing."""
        require(actor_of(request), "check")
        body = validated_body(shapes.DryOverlaps, request)
        snapshot = snapshot_from(body["snapshot"])
        slug = body["server"] or snapshot.server_name or "this snapshot"
        return Response(overlaps_document(*queries.overlaps_with_catalog(snapshot, slug)))


class MixUpsView(Endpoint):
    """Which of some items a chooser would confuse when they are offered together."""

    @extend_schema(operation_id="find_mix_ups", request=shapes.Offered, responses=shapes.MixUps)
    def post(self, request: Request) -> Response:
        mix_ups = worklist.mix_ups_of(actor_of(request), validated_body(shapes.Offered, request)["items"])
        return Response({"mix_ups": [mix_up_document(mix_up) for mix_up in mix_ups]})


class OverlapMapView(Endpoint):
    """What is in the catalog as points near what they resemble: items, or the servers or teams of a large one."""

    @extend_schema(
        operation_id="get_overlap_map",
        parameters=[
            OpenApiParameter("team", description="its servers or items alone"),
            OpenApiParameter("server", description="its items, and those that they overlap with"),
        ],
        responses=shapes.OverlapMap,
    )
    def get(self, request: Request) -> Response:
        asked = request.query_params
        return Response(
            layout.overlap_map(actor_of(request), team=asked.get("team", ""), server=asked.get("server", ""))
        )


class RulingsView(Endpoint):
    """Rulings on overlaps, newest first."""

    @extend_schema(
        operation_id="list_rulings",
        parameters=[
            OpenApiParameter("state", enum=["proposed", "in force", "declined", "ended", "overdue"]),
            OpenApiParameter("word", enum=list(actions.RULING_WORDS)),
            OpenApiParameter("server", description="that has an item among the members"),
            *_RULINGS.parameters,
        ],
        responses=shapes.RulingsPage,
    )
    def get(self, request: Request) -> Response:
        who, asked = actor_of(request), request.query_params
        wanted = {name: asked.get(name, "") for name in ("state", "word", "server")}
        rows = rulings.rulings(who, **wanted)
        found, following = page_of(request, rows, _RULINGS)
        return Response({"results": [rulings.ruling_row(who, one) for one in found], "next": following})

    @extend_schema(operation_id="rule", request=shapes.NewRuling, responses={201: shapes.RulingRow})
    def post(self, request: Request) -> Response:
        """Propose a word on overlaps; it is in force when a second curator agrees."""
        who, body = actor_of(request), validated_body(shapes.NewRuling, request)
        made = actions.rule_on(who, body.pop("pairs"), body.pop("word"), body.pop("reason"), **body)
        return Response(rulings.ruling_row(who, rulings.ruling(who, made.pk)), status=201)


class RulingAnswerView(Endpoint):
    """Agree to a proposed ruling, decline it, or end one."""

    @extend_schema(operation_id="answer_ruling", request=shapes.RulingAnswer, responses=shapes.RulingRow)
    def post(self, request: Request, number: int) -> Response:
        who, body = actor_of(request), validated_body(shapes.RulingAnswer, request)
        actions.answer_ruling(who, number, body["answer"], body["note"])
        return Response(rulings.ruling_row(who, rulings.ruling(who, number)))
