"""Kits over HTTP: translate, never decide."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.kits import parse_kit
from tallshelf.core.kits.reading import HostServer
from tallshelf.service.kits import actions, ending, matrix, queries, reading, shown
from tallshelf.service.kits.api import serializers as shapes
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.etag import seen_by, with_etag
from tallshelf.service.web.paging import Order, paged

_KITS = Order(
    key="name",
    columns={
        "name": "name",
        "title": "title",
        "team": "team_slug",
        "environment": "environment",
        "items": "held_items",
        "tokens": "tokens",
        "data_class": "data_class",
        "changed_at": "changed_at",
    },
    default="name",
    changed="changed_at",
    as_text=True,
    nullable=("held_items", "tokens"),
)
_IF_MATCH = OpenApiParameter("If-Match", location="header", description="the ETag seen, or the kit's digest")


class KitsView(Endpoint):
    """Every kit on the shelf."""

    @extend_schema(
        operation_id="list_kits",
        parameters=[
            OpenApiParameter("q", description="words that are in the name or the title"),
            OpenApiParameter("team"),
            OpenApiParameter("trouble", enum=list(queries.TROUBLES), description="what is wrong with it"),
            OpenApiParameter("server", description="only those that hold something of it"),
            OpenApiParameter("item", description="with a server: only those that hold this item"),
            *_KITS.parameters,
        ],
        responses=shapes.KitsPage,
    )
    def get(self, request: Request) -> Response:
        asked = request.query_params
        names = ("team", "server", "item", "q", "trouble")
        rows = queries.kits(actor_of(request), **{name: asked.get(name, "") for name in names})
        return Response(paged(request, rows, _KITS))

    @extend_schema(
        operation_id="put_kit",
        parameters=[_IF_MATCH],
        request=shapes.NewKit,
        responses={200: shapes.KitPut, 201: shapes.KitPut},
    )
    def post(self, request: Request) -> Response:
        """Put a kit, or put it anew; the same again changes nothing."""
        body = validated_body(shapes.NewKit, request)
        kit = parse_kit(body["text"])
        stored = queries.digest_of(kit.name)
        seen = seen_by(request, stored)
        put = actions.put_kit(actor_of(request), body["text"], seen=seen, reason=body["reason"])
        state = "proposed" if put.proposed else "put" if put.kit and put.changed else "as it was"
        raised = put.proposed is not None and shown.raises(put.proposed)
        waits = put.proposed.uses if put.proposed else []
        answer = {
            "name": kit.name, "state": state, "digest": kit.digest, "raises": raised, "waits_for": waits
        }  # fmt: skip
        return Response(answer, status=201 if put.made else 200)


class KitView(Endpoint):
    """One kit: what it holds, what is wrong with it, what would move, and how it came to this."""

    @extend_schema(operation_id="get_kit", responses=shapes.KitDetail)
    def get(self, request: Request, name: str) -> Response:
        found = shown.shown_kit(actor_of(request), name)
        return with_etag(found, found["digest"])


class KitDropView(Endpoint):
    """Taking a kit off the shelf."""

    @extend_schema(operation_id="drop_kit", request=shapes.KitReason, responses=shapes.KitReason)
    def post(self, request: Request, name: str) -> Response:
        body = validated_body(shapes.KitReason, request)
        actions.drop_kit(actor_of(request), name, body["reason"])
        return Response(body)


class KitMovesView(Endpoint):
    """Moving the lock of a kit."""

    @extend_schema(operation_id="move_kit", request=shapes.KitMoveTo, responses=shapes.KitMoved)
    def post(self, request: Request, name: str) -> Response:
        body = validated_body(shapes.KitMoveTo, request)
        found, moved = actions.move_kit(actor_of(request), name, body["to"])
        kit = shown.shown_kit(actor_of(request), found.name)
        return Response({"name": found.name, "moved": moved, "kit": kit})


class KitAnswerView(Endpoint):
    """A second curator's answer to that a kit sees higher data."""

    @extend_schema(operation_id="answer_kit", request=shapes.KitAnswer, responses=shapes.KitAnswered)
    def post(self, request: Request, name: str) -> Response:
        body = validated_body(shapes.KitAnswer, request)
        proposal = actions.answer_raise(actor_of(request), name, body["answer"], body["note"])
        return Response({"name": proposal.name, "state": proposal.state})


class ProposedKitsView(Endpoint):
    """Kits that are to see higher data, and wait for a second curator."""

    @extend_schema(operation_id="list_proposed_kits", responses=shapes.ProposedKits)
    def get(self, request: Request) -> Response:
        return Response({"results": shown.proposals(actor_of(request))})


class KitCheckView(Endpoint):
    """What a kit would come to now, storing nothing."""

    @extend_schema(operation_id="check_kit", request=shapes.KitText, responses=shapes.KitCheck)
    def post(self, request: Request) -> Response:
        body = validated_body(shapes.KitText, request)
        return Response(shown.check_kit(actor_of(request), body["text"]))


class KitReadingView(Endpoint):
    """What of a host's configuration, and of names in texts, is in the catalog."""

    @extend_schema(operation_id="read_for_kit", request=shapes.ForKit, responses=shapes.KnownForKit)
    def post(self, request: Request) -> Response:
        body = validated_body(shapes.ForKit, request)
        hosts = [HostServer(**{**server, "args": tuple(server["args"])}) for server in body["servers"][:200]]
        return Response(reading.known_of(actor_of(request), hosts, body["names"]))


class ServerKitsView(Endpoint):
    """The kits that hold something of a server, by release."""

    @extend_schema(operation_id="list_server_kits", responses=shapes.ReleasesHeld)
    def get(self, request: Request, slug: str) -> Response:
        return Response({"results": queries.by_release(actor_of(request), slug)})


class EndingView(Endpoint):
    """What it would hit that a server, a release or an item is used no more, and what could stand in."""

    @extend_schema(
        operation_id="get_ending",
        parameters=[
            OpenApiParameter("version", description="of this release alone"),
            OpenApiParameter("item", description="of this item alone, such as tool:book_berth"),
        ],
        responses=shapes.Ending,
    )
    def get(self, request: Request, slug: str) -> Response:
        asked = request.query_params
        found = ending.what_ends(
            actor_of(request), slug, version=asked.get("version", ""), item=asked.get("item", "")
        )
        return Response(found)


class KitMatrixView(Endpoint):
    """Servers against kits: who holds what."""

    @extend_schema(
        operation_id="get_kit_matrix", parameters=[OpenApiParameter("team")], responses=shapes.KitMatrix
    )
    def get(self, request: Request) -> Response:
        team = request.query_params.get("team", "")
        return Response(matrix.matrix(actor_of(request), team=team))
