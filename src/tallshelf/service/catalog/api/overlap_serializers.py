from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from tallshelf.service.catalog.api.serializers import SnapshotField
from tallshelf.service.web.fields import FormerId
from tallshelf.service.web.openapi import component

_WORDS = ["distinct", "keep-both", "prefer", "merge", "same-meaning"]


@extend_schema_field(component("PairedOverlap"))
class OverlapField(serializers.JSONField):
    """An overlap document, with what names its pair."""


@extend_schema_field(component("Mix_up"))
class MixUpField(serializers.JSONField):
    """A mix-up document."""


class DryOverlaps(serializers.Serializer[Any]):
    snapshot = SnapshotField(help_text="a tallshelf.snapshot/1 document or a bare tools/list result")
    server = serializers.CharField(
        max_length=64, required=False, allow_null=True, default=None, help_text="whose releases are left out"
    )


class RulingRow(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    id = FormerId()
    word = serializers.ChoiceField(_WORDS)
    reason = serializers.CharField()
    members = serializers.ListField(child=serializers.CharField(), help_text="server#item")
    pairs = serializers.ListField(child=serializers.CharField(), help_text="of overlaps, or bases of changes")
    release = serializers.CharField(allow_blank=True, help_text="of same-meaning: server@version")
    base = serializers.CharField(
        allow_blank=True, help_text="of same-meaning: the version it was held against"
    )
    told = serializers.ListField(
        child=serializers.CharField(), help_text="of same-meaning: the changes, in words"
    )
    preferred = serializers.CharField(allow_blank=True)
    owner = serializers.CharField(allow_blank=True)
    due = serializers.DateField(allow_null=True)
    overdue = serializers.BooleanField()
    state = serializers.ChoiceField(["proposed", "in force", "declined", "ended"])
    by = serializers.CharField()
    at = serializers.DateTimeField()
    answered_by = serializers.CharField(allow_null=True)
    answered_at = serializers.DateTimeField(allow_null=True)
    answer_note = serializers.CharField(allow_blank=True)
    may_answer = serializers.BooleanField()
    may_end = serializers.BooleanField()


class RulingsPage(serializers.Serializer[Any]):
    results = RulingRow(many=True)
    next = serializers.CharField(allow_null=True)


class Member(serializers.Serializer[Any]):
    server = serializers.CharField()
    item = serializers.CharField()
    digest = serializers.CharField()
    team = serializers.CharField()


class Alike(serializers.Serializer[Any]):
    server = serializers.CharField()
    team = serializers.CharField()
    alike = serializers.IntegerField(help_text="its items that overlap with the other server's")
    items = serializers.IntegerField(help_text="all items of its current release")


class Group(serializers.Serializer[Any]):
    score = serializers.FloatField()
    teams = serializers.ListField(child=serializers.CharField())
    servers = Alike(many=True, help_text="two, or one that has an item twice")
    members = Member(many=True)
    overlaps = serializers.ListField(child=OverlapField())
    ruling = RulingRow(allow_null=True)


Group._declared_fields["class"] = serializers.ChoiceField(["same-job", "near"])


class Groups(serializers.Serializer[Any]):
    groups = Group(many=True)
    next = serializers.CharField(allow_null=True)


class Offered(serializers.Serializer[Any]):
    items = serializers.ListField(
        child=serializers.CharField(max_length=2200),
        min_length=1,
        max_length=400,
        help_text="server or server#item",
    )


class MixUps(serializers.Serializer[Any]):
    mix_ups = serializers.ListField(child=MixUpField())


class Point(serializers.Serializer[Any]):
    server = serializers.CharField(allow_blank=True, help_text="empty for a team")
    item = serializers.CharField(allow_blank=True, help_text="empty for a team or a server")
    team = serializers.CharField()
    size = serializers.IntegerField(help_text="servers of a team, items of a server, 1 for an item")
    x = serializers.FloatField(help_text="from 0 to 1")
    y = serializers.FloatField(help_text="from 0 to 1")


class Edge(serializers.Serializer[Any]):
    a = serializers.IntegerField(help_text="a point, counted from 0")
    b = serializers.IntegerField()
    score = serializers.FloatField()
    same_job = serializers.BooleanField()
    ruled = serializers.BooleanField(help_text="all of them")
    count = serializers.IntegerField(help_text="how many overlaps")


class OverlapMap(serializers.Serializer[Any]):
    level = serializers.ChoiceField(["teams", "servers", "items"], help_text="what a point is")
    points = Point(many=True)
    edges = Edge(many=True)


class NewRuling(serializers.Serializer[Any]):
    pairs = serializers.ListField(
        child=serializers.CharField(max_length=250),
        min_length=1,
        max_length=200,
        help_text="of overlaps, or with same-meaning the bases of changes",
    )
    word = serializers.ChoiceField(_WORDS)
    reason = serializers.CharField(max_length=2000)
    preferred = serializers.CharField(max_length=2200, required=False, allow_blank=True, default="")
    owner = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    due = serializers.DateField(required=False, allow_null=True, default=None)
    release = serializers.CharField(
        max_length=170,
        required=False,
        allow_blank=True,
        default="",
        help_text="with same-meaning: server@version that brought the changes",
    )
    base = serializers.CharField(
        max_length=100,
        required=False,
        allow_blank=True,
        default="",
        help_text="with same-meaning: the version to compare with; what the release is held against by default",
    )


class RulingAnswer(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(["agree", "decline", "end"])
    note = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")
