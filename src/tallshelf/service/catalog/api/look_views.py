"""Looks over HTTP: how running servers were found."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.snapshot import snapshot_from
from tallshelf.service.catalog import actions, queries
from tallshelf.service.catalog.api.serializers import SnapshotField
from tallshelf.service.catalog.models import Look
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint


class NewLook(serializers.Serializer[Any]):
    environment = serializers.CharField(max_length=40, help_text="of a launch record of the current release")
    standing = serializers.ChoiceField(("reached", "not reached"))
    snapshot = SnapshotField(
        required=False, allow_null=True, default=None, help_text="what it declares, where it was reached"
    )
    detail = serializers.CharField(
        max_length=300, required=False, default="", allow_blank=True, help_text="why it was not reached"
    )


class LookRow(serializers.Serializer[Any]):
    environment = serializers.CharField()
    version = serializers.CharField(source="release.version")
    standing = serializers.ChoiceField(Look.STANDINGS)
    differing = serializers.ListField(
        child=serializers.CharField(), source="items", help_text="the items that differ, the first 50"
    )
    detail = serializers.CharField()
    by = serializers.CharField(source="by.name", help_text="who reported it")
    at = serializers.DateTimeField()


class Looks(serializers.Serializer[Any]):
    results = LookRow(many=True)


class LooksView(Endpoint):
    """How a running server was found last, in each environment."""

    @extend_schema(operation_id="list_looks", responses=Looks)
    def get(self, request: Request, slug: str) -> Response:
        return Response({"results": LookRow(queries.looks(actor_of(request), slug), many=True).data})

    @extend_schema(operation_id="report_look", request=NewLook, responses=LookRow)
    def post(self, request: Request, slug: str) -> Response:
        """Report how it was found now; what it declares is compared with its current release, and not kept."""
        body = validated_body(NewLook, request)
        document = body.pop("snapshot")
        snapshot = snapshot_from(document) if document is not None else None
        look = actions.report_look(actor_of(request), slug, snapshot=snapshot, **body)
        return Response(LookRow(look).data)
