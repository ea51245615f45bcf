"""The house style over HTTP: translate, never decide."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import orjson
from django.http import StreamingHttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.reports import effect_document, lint_document, rule_document
from tallshelf.core.snapshot import snapshot_from
from tallshelf.core.style import RULES, HouseStyle, StyleEffect, lint, loosened, parse_style
from tallshelf.service import clock
from tallshelf.service.catalog import actions, findings, linting, queries
from tallshelf.service.catalog.api import style_serializers as shapes
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.openapi import component
from tallshelf.service.web.paging import Order, page_of

_PLACES = Order(key="key", columns={"server": "key"}, default="server")


class FindingsView(Endpoint):
    """What the house style says of a release."""

    @extend_schema(operation_id="list_findings", responses={200: component("Findings")})
    def get(self, request: Request, slug: str, version: str) -> Response:
        release = queries.release(actor_of(request), slug, version)
        return Response(lint_document(linting.findings_of(release)))


class RulesView(Endpoint):
    """The rules of the house style, each with its reason, settings and examples."""

    @extend_schema(operation_id="list_rules", responses={200: component("Rules")})
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see")
        return Response({"results": [rule_document(rule) for rule in RULES]})


class LintView(Endpoint):
    """Lint a snapshot under the style in force or another, storing nothing."""

    @extend_schema(
        operation_id="lint_snapshot", request=shapes.DryLint, responses={200: component("Findings")}
    )
    def post(self, request: Request) -> Response:
        require(actor_of(request), "check")
        body = validated_body(shapes.DryLint, request)
        style = linting.style_in_force() if body["house_style"] is None else parse_style(body["house_style"])
        more: dict[str, Any] = {}
        if body["server"]:
            server = queries.server(body["server"])
            more = {
                "server": server.slug,
                "data_class": server.data_class,
                "waivers": linting.waivers_in_force(server),
                "known": linting.known_findings(server),
            }
        snapshot = snapshot_from(body["snapshot"])
        findings = lint(snapshot, style=style, version=body["version"], now=clock.now(), **more)
        return Response(lint_document(findings))


class StyleView(Endpoint):
    """The house style in force."""

    @extend_schema(
        operation_id="get_style",
        parameters=[OpenApiParameter("version", int, description="another version; 0 is the default style")],
        responses=shapes.Style,
    )
    def get(self, request: Request) -> Response:
        text = request.query_params.get("version", "")
        version = int(text) if text.isascii() and text.isdigit() and len(text) < 9 else None
        return Response(linting.style_document(actor_of(request), version))

    @extend_schema(
        operation_id="apply_style", request=shapes.NewStyle, responses={201: shapes.Style, 200: shapes.Style}
    )
    def post(self, request: Request) -> Response:
        """Store a house style; it is in force at once, or proposed when it loosens something."""
        body = validated_body(shapes.NewStyle, request)
        made = actions.apply_style(actor_of(request), body["text"], body["note"], seen=body["seen"])
        return Response(linting.style_document(actor_of(request), made.version), status=201)


class StylesView(Endpoint):
    """Every version of the house style, newest first."""

    @extend_schema(operation_id="list_styles", responses=shapes.Styles)
    def get(self, request: Request) -> Response:
        return Response({"results": linting.styles(actor_of(request))})


class StyleAnswerView(Endpoint):
    """Agree to a proposed house style, or decline it."""

    @extend_schema(operation_id="answer_style", request=shapes.StyleAnswer, responses=shapes.Style)
    def post(self, request: Request, version: int) -> Response:
        body = validated_body(shapes.StyleAnswer, request)
        style = actions.answer_style(actor_of(request), version, body["answer"], body["note"])
        return Response(linting.style_document(actor_of(request), style.version))


class StyleEffectView(Endpoint):
    """What a house style would do to every current release, told while it is worked out.

    The answer is JSON Lines: ``{"done", "of"}`` for each server, and last the effect.
    """

    @extend_schema(
        operation_id="preview_style",
        request=shapes.StyleText,
        responses={(200, "application/jsonl"): component("StyleEffect")},
    )
    def post(self, request: Request) -> StreamingHttpResponse:
        require(actor_of(request), "check")
        style = parse_style(validated_body(shapes.StyleText, request)["text"])
        return StreamingHttpResponse(_told(style), content_type="application/jsonl")


def _told(style: HouseStyle) -> Iterator[bytes]:
    effect = StyleEffect()
    for done, of in linting.work_out_effect(style, effect):
        yield orjson.dumps({"done": done, "of": of}) + b"\n"
    loose = loosened(linting.style_in_force(), style)
    yield orjson.dumps(effect_document(effect, loose)) + b"\n"


class CatalogFindingsView(Endpoint):
    """How often each rule speaks in each team's current releases."""

    @extend_schema(operation_id="summarise_findings", responses=shapes.Summary)
    def get(self, request: Request) -> Response:
        return Response({"results": findings.summary(actor_of(request)), "progress": findings.progress()})


class PlacesView(Endpoint):
    """The findings of all current releases, with where they are."""

    @extend_schema(
        operation_id="list_places",
        parameters=[
            OpenApiParameter("rule"),
            OpenApiParameter("team"),
            OpenApiParameter("server"),
            OpenApiParameter("level", enum=["error", "warning", "note"], description="at least this bad"),
            *_PLACES.parameters,
        ],
        responses=shapes.PlacedPage,
    )
    def get(self, request: Request) -> Response:
        asked = {name: request.query_params.get(name, "") for name in ("rule", "team", "server", "level")}
        page, following = page_of(request, findings.places(actor_of(request), **asked), _PLACES)
        rows = [
            {
                "server": one.server.slug,
                "team": one.server.team.slug,
                "version": one.server.current.version,
                "finding": one.document,
            }
            for one in page
        ]
        return Response({"results": rows, "next": following})


class KnownView(Endpoint):
    """Which findings of a server are accepted as known."""

    @extend_schema(operation_id="count_known", responses=shapes.Known)
    def get(self, request: Request, slug: str) -> Response:
        require(actor_of(request), "see")
        return Response(_known(actor_of(request), slug))

    @extend_schema(operation_id="propose_known", request=shapes.ProposeKnown, responses=shapes.Known)
    def post(self, request: Request, slug: str) -> Response:
        """Propose to accept all findings of the current release as known, but for those on safety."""
        actions.propose_known(actor_of(request), slug, validated_body(shapes.ProposeKnown, request)["reason"])
        return Response(_known(actor_of(request), slug))


class KnownAnswerView(Endpoint):
    """Agree to what another curator proposed to accept as known, or decline it."""

    @extend_schema(operation_id="answer_known", request=shapes.StyleAnswer, responses=shapes.Known)
    def post(self, request: Request, number: int) -> Response:
        body = validated_body(shapes.StyleAnswer, request)
        known = actions.answer_known(actor_of(request), number, body["answer"], body["note"])
        return Response(_known(actor_of(request), known.server.slug))


class ProposedKnownView(Endpoint):
    """What waits to be accepted as known."""

    @extend_schema(operation_id="list_proposed_known", responses=shapes.ProposedKnownList)
    def get(self, request: Request) -> Response:
        return Response({"results": linting.proposed_known(actor_of(request))})


def _known(actor: Actor, slug: str) -> dict[str, Any]:
    known = linting.known_findings(queries.server(slug))
    proposed = next(iter(linting.proposed_known(actor, slug)), None)
    return {"server": slug, "known": len(known), "proposed": proposed}
