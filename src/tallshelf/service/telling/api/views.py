"""Events and feeds over HTTP: translate, never decide."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse, HttpResponseNotModified
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from tallshelf.core.errors import BadArgument
from tallshelf.core.telling import ATOM_TYPE, TYPES, Feed, atom, cloud_event
from tallshelf.service import clock
from tallshelf.service.telling import notices, queries
from tallshelf.service.telling.api.authentication import FeedAuthentication
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.paging import Order, page_limit, paged

_FEEDS = {"servers": "server", "teams": "team", "kits": "kit"}


class CloudEvent(serializers.Serializer[Any]):
    specversion = serializers.CharField(help_text="1.0 (CloudEvents)")
    id = serializers.CharField(
        help_text="its number; what is missing between two was not told, or not to you"
    )
    source = serializers.CharField(help_text="the service's address")  # type: ignore[assignment]
    type = serializers.CharField(help_text="such as tallshelf.release.published")
    subject = serializers.CharField(help_text="server@version#item, or kit:NAME")
    time = serializers.DateTimeField()
    datacontenttype = serializers.CharField()
    data = serializers.DictField(help_text="in words, and what it names")  # type: ignore[assignment]


class EventsPage(serializers.Serializer[Any]):
    results = CloudEvent(many=True)
    next = serializers.IntegerField(help_text="ask on with this as `after`")
    more = serializers.BooleanField(help_text="whether more wait behind it")


class EventsView(Endpoint):
    """What happened, the oldest first, behind a number: for programs that ask from time to time."""

    @extend_schema(
        operation_id="list_events",
        parameters=[
            OpenApiParameter("after", int, description="the `next` of the answer before; 0 to begin"),
            OpenApiParameter("type", description=f"only these, separated by commas: {', '.join(TYPES)}"),
            OpenApiParameter("limit", int),
        ],
        responses=EventsPage,
    )
    def get(self, request: Request) -> Response | HttpResponse:
        asked = request.query_params
        after, limit = _number(asked.get("after", "0")), page_limit(request)
        types = frozenset(one for one in asked.get("type", "").split(",") if one)
        unknown = sorted(types - set(TYPES))
        if unknown:
            raise BadArgument(
                f"no event has the type {unknown[0]!r}", remedy=f"Types are {', '.join(TYPES)}."
            )
        tag = f'"{queries.head()}"'
        if request.headers.get("If-None-Match", "").removeprefix("W/") == tag:
            return HttpResponseNotModified(headers={"ETag": tag})
        rows, following, more = queries.told_after(actor_of(request), after, limit, types)
        source = _source(request)
        body = {"results": [cloud_event(row, source) for row in rows], "next": following, "more": more}
        return Response(body, headers={"ETag": tag} if not more else {})


def _number(text: str) -> int:
    if not text.isascii() or not text.isdigit() or len(text) > 18:
        raise BadArgument(f"after is {text[:20]!r}; it must be a number from 0")
    return int(text)


def _source(request: Request) -> str:
    return request.build_absolute_uri("/").rstrip("/")


class NoticeRow(serializers.Serializer[Any]):
    entry = serializers.IntegerField(help_text="the number of the ledger's entry that it tells of")
    type = serializers.CharField()
    words = serializers.CharField()
    because = serializers.CharField(help_text="why you are told")
    page = serializers.CharField(help_text="where to look, in the console")
    at = serializers.DateTimeField()
    read_at = serializers.DateTimeField(allow_null=True)


class NoticesPage(serializers.Serializer[Any]):
    results = NoticeRow(many=True)
    next = serializers.CharField(allow_null=True)


class NoticesRead(serializers.Serializer[Any]):
    upto = serializers.IntegerField(min_value=0, help_text="the entry of the newest notice that was read")


_NOTICES = Order(key="entry", columns={"entry": "entry"}, default="-entry", changed="at", as_text=True)


class NoticesView(Endpoint):
    """What you were told, newest first."""

    @extend_schema(
        operation_id="list_notices",
        parameters=[OpenApiParameter("unread", bool), *_NOTICES.parameters],
        responses=NoticesPage,
    )
    def get(self, request: Request) -> Response:
        unread = request.query_params.get("unread", "") == "true"
        return Response(paged(request, notices.notices(actor_of(request), unread=unread), _NOTICES))


class NoticesReadView(Endpoint):
    """Noting that you have read what you were told."""

    @extend_schema(operation_id="read_notices", request=NoticesRead, responses=NoticesRead)
    def post(self, request: Request) -> Response:
        body = validated_body(NoticesRead, request)
        notices.mark_read(actor_of(request), body["upto"])
        return Response(body)


class FeedView(APIView):
    """What is new of the catalog, or of one server, team or kit, as Atom (RFC 4287)."""

    authentication_classes = (FeedAuthentication,)
    schema = None

    def get(self, request: Request, kind: str = "", name: str = "") -> HttpResponse:
        source = _source(request)
        narrowed = {_FEEDS[kind]: name} if kind else {}
        page = {"servers": f"/servers/{name}", "kits": f"/kits/{name}"}.get(kind, "/")
        title = f"Tall Shelf: {name}" if kind else "Tall Shelf"
        found = queries.newest(actor_of(request), **narrowed)
        feed = Feed(title, request.build_absolute_uri(request.path), source + page, source)
        body = atom(feed, found, clock.now().isoformat(timespec="seconds").replace("+00:00", "Z"))
        return HttpResponse(body, content_type=f"{ATOM_TYPE}; charset=utf-8")
