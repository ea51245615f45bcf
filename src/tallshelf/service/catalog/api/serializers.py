from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from tallshelf.core.routing import DATA_CLASSES
from tallshelf.core.snapshot import SCHEMES
from tallshelf.service.catalog.models import USES
from tallshelf.service.web.openapi import component


class ServerRow(serializers.Serializer[Any]):
    slug = serializers.CharField()
    title = serializers.CharField()
    contact = serializers.CharField()
    source_link = serializers.CharField()
    data_class = serializers.ChoiceField(DATA_CLASSES)
    scheme = serializers.ChoiceField(SCHEMES, help_text="how its releases are numbered")
    use = serializers.ChoiceField(
        ("", *USES),
        help_text="whether kits of other teams ask its owner team; empty: not said, and open so far",
    )
    tags = serializers.ListField(child=serializers.CharField())
    suspended = serializers.BooleanField()
    waiting = serializers.BooleanField(help_text="a release of it is in review")
    changed_at = serializers.DateTimeField(help_text="when the ledger last told of it")
    team_slug = serializers.CharField()
    team_title = serializers.CharField()
    current_version = serializers.CharField(allow_null=True)
    current_items = serializers.IntegerField(allow_null=True)
    current_tools = serializers.IntegerField(allow_null=True)
    current_tokens = serializers.IntegerField(allow_null=True)
    deprecated_version = serializers.CharField(allow_null=True, help_text="the last one deprecated")
    deprecated_items = serializers.IntegerField(allow_null=True)
    deprecated_tokens = serializers.IntegerField(allow_null=True)
    transports = serializers.ListField(child=serializers.CharField(), help_text="of the current release")
    reviewed = serializers.BooleanField(
        allow_null=True, help_text="false when the current release was adopted without review"
    )


class ServersPage(serializers.Serializer[Any]):
    results = ServerRow(many=True)
    next = serializers.CharField(allow_null=True, help_text="cursor of the next page")


class TeamName(serializers.Serializer[Any]):
    slug = serializers.CharField()
    title = serializers.CharField()


class ShelfBay(serializers.Serializer[Any]):
    team = serializers.CharField()
    title = serializers.CharField()
    place = serializers.IntegerField(help_text="of its team among those that own servers, from 0")
    servers = serializers.IntegerField()
    items = serializers.IntegerField()
    waiting = serializers.IntegerField(help_text="servers of which a release is in review")
    suspended = serializers.IntegerField(help_text="servers that are suspended whole")
    deprecated = serializers.IntegerField(help_text="servers that have a deprecated release alone")
    edges = serializers.ListField(
        child=serializers.IntegerField(), help_text="the items of its first eighty servers, by name"
    )


class ShelfLargest(serializers.Serializer[Any]):
    items = serializers.IntegerField()
    tokens = serializers.IntegerField()


class ShelfPicture(serializers.Serializer[Any]):
    on_shelf = serializers.IntegerField(help_text="how many servers there are")
    servers = serializers.IntegerField(help_text="how many of them are asked for")
    tools = serializers.IntegerField(help_text="what the current releases of these hold")
    largest = ShelfLargest(help_text="of all servers, each by itself")
    teams = TeamName(many=True, help_text="those that own servers")
    tags = serializers.ListField(child=serializers.CharField(), help_text="those that servers have")
    bays = ShelfBay(many=True)
    rows = ServerRow(many=True, help_text="the servers, by team and name, where they are sixty at most")


class NewServer(serializers.Serializer[Any]):
    slug = serializers.CharField(max_length=64)
    title = serializers.CharField(max_length=120)
    team = serializers.CharField(max_length=64)
    contact = serializers.CharField(max_length=200)
    source_link = serializers.CharField(max_length=500, required=False, allow_blank=True, default="")
    data_class = serializers.ChoiceField(DATA_CLASSES, default="internal")
    scheme = serializers.ChoiceField(SCHEMES, default="semver")
    use = serializers.ChoiceField(
        ("", *USES), default="", help_text="empty: ask once it writes or takes credentials"
    )
    tags = serializers.ListField(
        child=serializers.CharField(max_length=40), required=False, default=list, max_length=20
    )


class ServerEdit(serializers.Serializer[Any]):
    title = serializers.CharField(max_length=120, required=False)
    contact = serializers.CharField(max_length=200, required=False)
    source_link = serializers.CharField(max_length=500, required=False, allow_blank=True)
    data_class = serializers.ChoiceField(DATA_CLASSES, required=False)
    use = serializers.ChoiceField(USES, required=False)
    tags = serializers.ListField(child=serializers.CharField(max_length=40), required=False, max_length=20)


class Package(serializers.Serializer[Any]):
    name = serializers.CharField()
    version = serializers.CharField()
    integrity = serializers.CharField(required=False)


class Launch(serializers.Serializer[Any]):
    environment = serializers.CharField()
    transport = serializers.CharField()
    command = serializers.CharField(required=False)
    args = serializers.ListField(child=serializers.CharField(), required=False)
    package = Package(required=False)
    url = serializers.CharField(required=False)
    env = serializers.ListField(child=serializers.CharField(), required=False)
    headers = serializers.ListField(child=serializers.CharField(), required=False)


class ReleaseRow(serializers.Serializer[Any]):
    server = serializers.CharField(source="server.slug")
    version = serializers.CharField()
    breaking = serializers.BooleanField(help_text="a calendar version that was declared to break")
    state = serializers.CharField()
    digest = serializers.CharField()
    snapshot_digest = serializers.CharField(source="snapshot_id")
    origin = serializers.CharField()
    captured = serializers.DictField(child=serializers.CharField())
    launch = serializers.ListField(child=Launch())
    item_count = serializers.IntegerField()
    tool_count = serializers.IntegerField()
    tokens = serializers.IntegerField()
    submitted_by = serializers.CharField(source="submitted_by.name")
    submitted_at = serializers.DateTimeField()
    published_at = serializers.DateTimeField(allow_null=True)
    ended_at = serializers.DateTimeField(allow_null=True)
    end_reason = serializers.CharField(allow_blank=True)
    sunset_at = serializers.DateTimeField(allow_null=True, help_text="not to be used after")
    replacement = serializers.CharField(allow_blank=True, help_text="server or server@version")


class SuspensionRow(serializers.Serializer[Any]):
    id = serializers.IntegerField(read_only=True)
    server = serializers.CharField(source="server.slug")
    item = serializers.CharField(allow_blank=True)
    reason = serializers.CharField()
    by = serializers.CharField(source="by.name")
    at = serializers.DateTimeField()


class AgreedDespite(serializers.Serializer[Any]):
    gate = serializers.CharField(help_text="a gate that failed")
    reason = serializers.CharField()
    by = serializers.CharField()


class ReleaseDetail(ReleaseRow):
    suspensions = SuspensionRow(many=True, help_text="of the server or of items that stand")
    despite = AgreedDespite(many=True, help_text="gates that failed when it was agreed to, and why it was")


class NewSuspension(serializers.Serializer[Any]):
    server = serializers.CharField(max_length=64)
    item = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")
    reason = serializers.CharField(max_length=2000)


class ServerDetail(ServerRow):
    releases = ReleaseRow(many=True)
    suspensions = SuspensionRow(many=True)
    record_digest = serializers.CharField(help_text="of what can be edited; send it as If-Match")
    may_edit = serializers.ListField(child=serializers.CharField(), help_text="fields the asker may edit")
    may_suspend = serializers.BooleanField()
    may_ask = serializers.BooleanField(help_text="whether the asker may ask for acts on it and its releases")


class SuspensionsPage(serializers.Serializer[Any]):
    results = SuspensionRow(many=True)
    next = serializers.CharField(allow_null=True)


class Piece(serializers.Serializer[Any]):
    text = serializers.CharField()
    hit = serializers.BooleanField(help_text="whether this piece matches the search")


class SaidWord(serializers.Serializer[Any]):
    asked = serializers.CharField(help_text="a word of the question")
    said = serializers.CharField(
        allow_blank=True, help_text="the result's own word for it; empty where it has none"
    )
    where = serializers.ChoiceField(["name", "text", "parameters", "server", ""])


class HitNote(serializers.Serializer[Any]):
    text = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()
    answer = serializers.CharField(allow_blank=True, help_text="of its owners")


class Hit(serializers.Serializer[Any]):
    kind = serializers.CharField(help_text="server, tool, resource, template or prompt")
    server = serializers.CharField()
    server_title = serializers.CharField()
    team = serializers.CharField()
    team_title = serializers.CharField()
    version = serializers.CharField(allow_null=True)
    item = serializers.CharField(allow_blank=True, help_text="empty for the server itself")
    preferred = serializers.CharField(
        allow_blank=True, help_text="what a ruling says is to be used instead, as server#item"
    )
    notes = HitNote(many=True, help_text="what users say of the server's current release, the newest two")
    suspended = serializers.CharField(allow_blank=True, help_text="why it, or its whole server, is suspended")
    deprecated = serializers.CharField(
        allow_blank=True,
        help_text="until when it may be used, why, and what to use instead; empty: it is not",
    )
    name = Piece(many=True)
    text = Piece(many=True)
    parameters = serializers.ListField(child=Piece(many=True), help_text="those that match")
    says = SaidWord(many=True)


class Found(serializers.Serializer[Any]):
    results = Hit(many=True)
    next = serializers.CharField(allow_null=True)
    respelled = serializers.DictField(
        child=serializers.ListField(child=serializers.CharField()),
        help_text="words that occur nowhere, and what they were read as",
    )
    fit = serializers.ChoiceField(
        ["good", "weak", "none"], help_text="how much of what is asked for the best result says"
    )


class TimelineStep(serializers.Serializer[Any]):
    version = serializers.CharField()
    state = serializers.CharField()
    at = serializers.DateTimeField()
    since = serializers.CharField(allow_null=True, help_text="the release it is compared with")
    impact = serializers.ChoiceField(["breaking", "undecided", "caution", "compatible"], allow_null=True)
    silent = serializers.IntegerField(help_text="how many of the changes are silent")
    changes = serializers.IntegerField()


class Timeline(serializers.Serializer[Any]):
    steps = TimelineStep(many=True)


@extend_schema_field(component("Snapshot"))
class SnapshotField(serializers.JSONField):
    """A snapshot document, checked by the action or query that reads it."""


class UploadedComparison(serializers.Serializer[Any]):
    old = serializers.CharField(max_length=200, help_text="server or server@version")
    snapshot = SnapshotField(help_text="a tallshelf.snapshot/1 document or a bare tools/list result")
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    breaking = serializers.BooleanField(
        required=False, default=False, help_text="of a calendar version: that it is declared to break"
    )


class SuspendedItem(serializers.Serializer[Any]):
    item = serializers.CharField()
    reason = serializers.CharField()
    at = serializers.DateTimeField()


class Connection(serializers.Serializer[Any]):
    release = serializers.CharField()
    release_digest = serializers.CharField()
    environment = serializers.CharField()
    environments = serializers.ListField(child=serializers.CharField())
    warning = serializers.CharField(allow_blank=True)
    suspended = SuspendedItem(many=True, help_text="items that must not be used at present")
    deprecated = serializers.BooleanField()
    sunset_at = serializers.DateTimeField(allow_null=True)
    replacement = serializers.CharField(allow_blank=True)
    block = serializers.DictField()


class Approval(serializers.Serializer[Any]):
    server = serializers.CharField()
    version = serializers.CharField()
    state = serializers.CharField()
    release_digest = serializers.CharField()
    snapshot_digest = serializers.CharField()
    approved = serializers.BooleanField()
    suspended = serializers.BooleanField()
    reviewed = serializers.BooleanField(help_text="false when it was adopted without review")


class ByDigest(serializers.Serializer[Any]):
    digest = serializers.CharField()
    approved = serializers.BooleanField(
        help_text="at least one release with these bytes is published and not suspended"
    )
    releases = Approval(many=True)
