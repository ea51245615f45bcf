"""The ledger over HTTP."""

from __future__ import annotations

import json
from typing import Any

from django.http import StreamingHttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.ledger.events import Event
from tallshelf.service.ledger import checkpoints, queries
from tallshelf.service.people.permissions import require
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.paging import Order, paged

_ENTRIES = Order(key="number", columns={"number": "number"}, default="-number", changed="at", as_text=True)


class EntryRow(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    at = serializers.CharField()
    event = serializers.CharField()
    actor = serializers.CharField()
    via = serializers.CharField()
    subject = serializers.CharField()
    body = serializers.DictField()
    previous = serializers.CharField()
    hash = serializers.CharField()


class LedgerPage(serializers.Serializer[Any]):
    results = EntryRow(many=True)
    next = serializers.CharField(allow_null=True)


class LedgerView(Endpoint):
    """Who did what, newest first."""

    @extend_schema(
        operation_id="list_ledger",
        parameters=[
            OpenApiParameter("subject", description="a server, an account or a desk"),
            OpenApiParameter("event", enum=[event.value for event in Event]),
            OpenApiParameter("actor"),
            *_ENTRIES.parameters,
        ],
        responses=LedgerPage,
    )
    def get(self, request: Request) -> Response:
        rows = queries.entries(
            actor_of(request),
            subject=request.query_params.get("subject", ""),
            event=request.query_params.get("event", ""),
            by=request.query_params.get("actor", ""),
        )
        return Response(paged(request, rows, _ENTRIES, _shape))


class Checkpoint(serializers.Serializer[Any]):
    checkpoint = serializers.CharField(help_text="compact JWS (RFC 7515), EdDSA: number, hash and moment")
    key = serializers.CharField(help_text="the public key, as PEM")


class CheckpointView(Endpoint):
    """Where the ledger stands now, signed; keep it elsewhere."""

    @extend_schema(operation_id="ledger_checkpoint", responses=Checkpoint)
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see")
        return Response({"checkpoint": checkpoints.checkpoint(), "key": checkpoints.public()})


class ExportView(Endpoint):
    """The whole ledger as JSON Lines, with a checkpoint as its last line."""

    @extend_schema(operation_id="export_ledger", responses={(200, "application/x-ndjson"): str})
    def get(self, request: Request) -> StreamingHttpResponse:
        require(actor_of(request), "see-ledger")
        answer = StreamingHttpResponse(checkpoints.export(), content_type="application/x-ndjson")
        answer["Content-Disposition"] = 'attachment; filename="ledger.jsonl"'
        return answer


def _shape(row: dict[str, Any]) -> dict[str, Any]:
    return {**row, "body": json.loads(row["body"])}
