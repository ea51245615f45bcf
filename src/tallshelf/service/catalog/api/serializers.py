from __future__ import annotations

from typing import Any

from rest_framework import serializers

from tallshelf.service.catalog.models import DATA_CLASSES


class ServerRow(serializers.Serializer[Any]):
    slug = serializers.CharField()
    title = serializers.CharField()
    contact = serializers.CharField()
    source_link = serializers.CharField()
    data_class = serializers.ChoiceField(DATA_CLASSES)
    tags = serializers.ListField(child=serializers.CharField())
    suspended = serializers.BooleanField()
    waiting = serializers.BooleanField(help_text="a release of it is in review")
    team_slug = serializers.CharField()
    team_title = serializers.CharField()
    current_version = serializers.CharField(allow_null=True)
    current_items = serializers.IntegerField(allow_null=True)
    current_tools = serializers.IntegerField(allow_null=True)
    current_tokens = serializers.IntegerField(allow_null=True)


class ServersPage(serializers.Serializer[Any]):
    results = ServerRow(many=True)
    next = serializers.CharField(allow_null=True, help_text="cursor of the next page")


class NewServer(serializers.Serializer[Any]):
    slug = serializers.CharField(max_length=64)
    title = serializers.CharField(max_length=120)
    team = serializers.CharField(max_length=64)
    contact = serializers.CharField(max_length=200)
    source_link = serializers.CharField(max_length=500, required=False, allow_blank=True, default="")
    data_class = serializers.ChoiceField(DATA_CLASSES, default="internal")
    tags = serializers.ListField(
        child=serializers.CharField(max_length=40), required=False, default=list, max_length=20
    )


class ReleaseRow(serializers.Serializer[Any]):
    server = serializers.CharField(source="server.slug")
    version = serializers.CharField()
    state = serializers.CharField()
    digest = serializers.CharField()
    snapshot_digest = serializers.CharField(source="snapshot_id")
    origin = serializers.CharField()
    captured = serializers.JSONField()
    launch = serializers.JSONField()
    item_count = serializers.IntegerField()
    tool_count = serializers.IntegerField()
    tokens = serializers.IntegerField()
    submitted_by = serializers.CharField(source="submitted_by.name")
    submitted_at = serializers.DateTimeField()
    published_at = serializers.DateTimeField(allow_null=True)
    ended_at = serializers.DateTimeField(allow_null=True)
    end_reason = serializers.CharField(allow_blank=True)


class SuspensionRow(serializers.Serializer[Any]):
    id = serializers.IntegerField(read_only=True)
    server = serializers.CharField(source="server.slug")
    item = serializers.CharField(allow_blank=True)
    reason = serializers.CharField()
    by = serializers.CharField(source="by.name")
    at = serializers.DateTimeField()


class NewSuspension(serializers.Serializer[Any]):
    server = serializers.CharField(max_length=64)
    item = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")
    reason = serializers.CharField(max_length=2000)


class ServerDetail(ServerRow):
    releases = ReleaseRow(many=True)
    suspensions = SuspensionRow(many=True)


class Retirement(serializers.Serializer[Any]):
    act = serializers.ChoiceField(["deprecate", "withdraw"])
    reason = serializers.CharField(max_length=2000)


class Connection(serializers.Serializer[Any]):
    release = serializers.CharField()
    release_digest = serializers.CharField()
    environment = serializers.CharField()
    environments = serializers.ListField(child=serializers.CharField())
    warning = serializers.CharField(allow_blank=True)
    block = serializers.DictField()


class Approval(serializers.Serializer[Any]):
    server = serializers.CharField()
    version = serializers.CharField()
    state = serializers.CharField()
    release_digest = serializers.CharField()
    snapshot_digest = serializers.CharField()
    approved = serializers.BooleanField()
    suspended = serializers.BooleanField()


class ByDigest(serializers.Serializer[Any]):
    digest = serializers.CharField()
    approved = serializers.BooleanField(
        help_text="at least one release with these bytes is published and not suspended"
    )
    releases = Approval(many=True)
