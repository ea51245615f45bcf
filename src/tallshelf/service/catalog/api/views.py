"""The catalog over HTTP: translate, never decide."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.compat import stand_in
from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.reports import (
    finding_document,
    life_document,
    outline_document,
    stand_in_document,
)
from tallshelf.core.snapshot import (
    Item,
    outline,
    parse_reference,
)
from tallshelf.service.catalog import actions, linting, queries, search, shelf
from tallshelf.service.catalog.api import serializers as shapes
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.deprecation import with_deprecation
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.etag import seen_by, with_etag
from tallshelf.service.web.openapi import component
from tallshelf.service.web.paging import Order, offset_cursor, page_limit, page_offset, paged

_CURSOR = [OpenApiParameter("cursor"), OpenApiParameter("limit", int)]
_SERVERS = Order(
    key="slug",
    columns={
        "slug": "slug",
        "title": "title",
        "team": "team_slug",
        "data_class": "data_class",
        "items": "current_items",
        "tokens": "current_tokens",
        "changed_at": "changed_at",
    },
    default="slug",
    changed="changed_at",
    as_text=True,
    nullable=("current_items", "current_tokens"),
)
_WANTED = [
    OpenApiParameter("q", description="words that are in the name, the title, the team or the tags"),
    OpenApiParameter("team"),
    OpenApiParameter("state", enum=list(shelf.STATES)),
    OpenApiParameter("tag"),
    OpenApiParameter("data_class"),
    OpenApiParameter("transport", enum=list(shelf.TRANSPORTS), description="of the current release"),
]


def _wanted(request: Request) -> shelf.Wanted:
    asked = request.query_params
    return shelf.Wanted(**{one.name: asked.get(one.name, "") for one in _WANTED})


class ServersView(Endpoint):
    """Every server on the shelf."""

    @extend_schema(
        operation_id="list_servers",
        parameters=[*_WANTED, *_SERVERS.parameters],
        responses=shapes.ServersPage,
    )
    def get(self, request: Request) -> Response:
        rows = shelf.servers(actor_of(request), _wanted(request))
        return Response(paged(request, rows, _SERVERS, shelf.server_row))

    @extend_schema(
        operation_id="enrol_server", request=shapes.NewServer, responses={201: shapes.ServerDetail}
    )
    def post(self, request: Request) -> Response:
        body = validated_body(shapes.NewServer, request)
        server, made = actions.enrol_server(actor_of(request), body.pop("slug"), **body)
        return Response(_detail(request, server.slug), status=201 if made else 200)


class ShelfView(Endpoint):
    """The shelf as it is drawn: a bay for each team, with what it holds, counted."""

    @extend_schema(operation_id="get_shelf", parameters=_WANTED, responses=shapes.ShelfPicture)
    def get(self, request: Request) -> Response:
        return Response(shelf.picture(actor_of(request), _wanted(request)))


class ServerView(Endpoint):
    """One server with its releases and suspensions."""

    @extend_schema(operation_id="get_server", responses=shapes.ServerDetail)
    def get(self, request: Request, slug: str) -> Response:
        found = _detail(request, slug)
        return with_etag(found, found["record_digest"])

    @extend_schema(
        operation_id="edit_server",
        parameters=[
            OpenApiParameter("If-Match", location="header", description="the ETag seen, or the record digest")
        ],
        request=shapes.ServerEdit,
        responses=shapes.ServerDetail,
    )
    def patch(self, request: Request, slug: str) -> Response:
        seen = seen_by(request, queries.record_digest(queries.server(slug)))
        actions.edit_server(actor_of(request), slug, validated_body(shapes.ServerEdit, request), seen=seen)
        found = _detail(request, slug)
        return with_etag(found, found["record_digest"])


def _detail(request: Request, slug: str) -> dict[str, Any]:
    server = queries.server(slug)
    row = shelf.server_row(shelf.servers(actor_of(request)).get(slug=slug))
    return {
        **row,
        "record_digest": queries.record_digest(server),
        "may_edit": _editable(request, server.team.slug),
        "may_suspend": refusal(actor_of(request), "suspend", server.team.slug) is None,
        "may_ask": refusal(actor_of(request), "ask", server.team.slug) is None,
        "releases": shapes.ReleaseRow(queries.releases(actor_of(request), server), many=True).data,
        "suspensions": shapes.SuspensionRow(queries.standing_suspensions(server), many=True).data,
    }


def _editable(request: Request, team: str) -> list[str]:
    if refusal(actor_of(request), "edit", team) is not None:
        return []
    curates = refusal(actor_of(request), "curate") is None
    return [name for name in actions.EDITABLE if name != "data_class" or curates]


class FindView(Endpoint):
    """Servers and items of current releases, by what they do."""

    @extend_schema(
        operation_id="find",
        parameters=[
            OpenApiParameter("q", required=True, description="words; all must occur"),
            OpenApiParameter("kind", enum=["server", "tool", "resource", "template", "prompt"]),
            OpenApiParameter("team"),
            *_CURSOR,
        ],
        responses=shapes.Found,
    )
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see")
        asked = request.query_params
        limit, offset = page_limit(request, default=20), page_offset(request)
        found = search.find(
            asked.get("q", ""),
            kind=asked.get("kind", ""),
            team=asked.get("team", ""),
            limit=limit,
            offset=offset,
        )
        more = found.pop("more") and offset + limit < search.MOST_HITS
        return Response({**found, "next": offset_cursor(offset + limit) if more else None})


class ReleaseView(Endpoint):
    """One release; ``current`` names the current one."""

    @extend_schema(operation_id="get_release", responses=shapes.ReleaseDetail)
    def get(self, request: Request, slug: str, version: str) -> Response:
        release = queries.release(actor_of(request), slug, version)
        standing = queries.standing_suspensions(release.server)
        row = shapes.ReleaseRow(release).data
        row |= {"suspensions": shapes.SuspensionRow(standing, many=True).data}
        return with_deprecation(Response({**row, "despite": queries.agreed_despite(release)}), release)


class SnapshotView(Endpoint):
    """The snapshot of a release, as captured."""

    @extend_schema(operation_id="get_snapshot", responses={200: component("Snapshot")})
    def get(self, request: Request, slug: str, version: str) -> Response:
        release = queries.release(actor_of(request), slug, version)
        return with_deprecation(Response(queries.whole_snapshot_of(release).document()), release)


class ItemsView(Endpoint):
    """The items of a release as a model sees them, each with its findings and its declared object."""

    @extend_schema(
        operation_id="list_items", parameters=[OpenApiParameter("item")], responses={200: component("Items")}
    )
    def get(self, request: Request, slug: str, version: str) -> Response:
        release = queries.release(actor_of(request), slug, version)
        snapshot = queries.snapshot_of(release)
        document = outline_document(outline(snapshot))
        findings = [finding_document(finding) for finding in linting.findings_of(release)]
        for row, item in zip(document["items"], snapshot.items, strict=True):
            row["digest"] = item.digest
            row["declared"] = item.body
            row["findings"] = [finding for finding in findings if finding["item"] == item.identity]
        ending = queries.ending_items(release.server)
        for row in document["items"]:
            ends = ending.get(row["item"])
            row["deprecated"] = f"deprecated{ends.words}" if ends else ""
        document["findings"] = [finding for finding in findings if finding["item"] == "server"]
        wanted = request.query_params.get("item")
        if wanted:
            document["items"] = [row for row in document["items"] if row["item"] == wanted]
        return with_deprecation(Response(document), release)


class ConnectionView(Endpoint):
    """The block that connects a host to a release."""

    @extend_schema(
        operation_id="get_connection",
        parameters=[OpenApiParameter("environment")],
        responses=shapes.Connection,
    )
    def get(self, request: Request, slug: str, version: str) -> Response:
        environment = request.query_params.get("environment", "")
        release = queries.release(actor_of(request), slug, version)
        block = queries.connection(actor_of(request), release, environment)
        return with_deprecation(Response(block), release)


class StandInView(Endpoint):
    """Can tool b take the place of tool a? Each is named server[@version]#tool."""

    @extend_schema(
        operation_id="stand_in",
        parameters=[OpenApiParameter("a", required=True), OpenApiParameter("b", required=True)],
        responses={200: component("StandIn")},
    )
    def get(self, request: Request) -> Response:
        a, b = (request.query_params.get(side, "") for side in ("a", "b"))
        answer = stand_in(*(_tool(request, one).body for one in (a, b)))
        return Response(stand_in_document(answer, a, b))


def _tool(request: Request, reference: str) -> Item:
    place = parse_reference(reference)
    if place.file or not place.item:
        raise BadArgument(f"{reference!r} names no tool", remedy="Write server#tool or server@version#tool.")
    release = queries.release(actor_of(request), place.server, place.version or "current")
    for item in queries.snapshot_of(release).tools:
        if item.identity == place.item:
            return item
    raise NotFound(f"{release} has no {place.item}")


class TimelineView(Endpoint):
    """The releases of a server in time, each with the worst impact of its step."""

    @extend_schema(operation_id="get_timeline", responses=shapes.Timeline)
    def get(self, request: Request, slug: str) -> Response:
        return Response({"steps": queries.timeline(actor_of(request), slug)})


class LifeView(Endpoint):
    """The life of one item through all published releases of a server."""

    @extend_schema(
        operation_id="get_life",
        parameters=[OpenApiParameter("item", required=True, description="such as tool:get_tide_times")],
        responses={200: component("Life")},
    )
    def get(self, request: Request, slug: str) -> Response:
        item = request.query_params.get("item", "")
        return Response(life_document(item, queries.life(actor_of(request), slug, item)))


class ByDigestView(Endpoint):
    """Is this approved? By the digest of a release or of a snapshot."""

    @extend_schema(operation_id="by_digest", responses=shapes.ByDigest)
    def get(self, request: Request, digest: str) -> Response:
        suspended = set(queries.standing_suspensions().filter(item="").values_list("server_id", flat=True))
        rows = [
            {
                "server": release.server.slug,
                "version": release.version,
                "state": release.state,
                "release_digest": release.digest,
                "snapshot_digest": release.snapshot_id,
                "suspended": release.server_id in suspended,
                "reviewed": release.origin != shelf.ADOPTED,
                "approved": release.state in ("published", "deprecated")
                and release.server_id not in suspended,
            }
            for release in queries.by_digest(actor_of(request), digest)
        ]
        return Response(
            {"digest": digest, "approved": any(row["approved"] for row in rows), "releases": rows}
        )


class SuspensionsView(Endpoint):
    """Suspensions that stand."""

    @extend_schema(operation_id="list_suspensions", responses=shapes.SuspensionsPage)
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see")
        rows = shapes.SuspensionRow(queries.standing_suspensions(), many=True).data
        return Response({"results": rows, "next": None})

    @extend_schema(
        operation_id="suspend", request=shapes.NewSuspension, responses={201: shapes.SuspensionRow}
    )
    def post(self, request: Request) -> Response:
        body = validated_body(shapes.NewSuspension, request)
        suspension, made = actions.suspend(actor_of(request), body["server"], body["reason"], body["item"])
        return Response(shapes.SuspensionRow(suspension).data, status=201 if made else 200)
