from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from tallshelf.service.catalog.api.serializers import SnapshotField
from tallshelf.service.web.fields import FormerId
from tallshelf.service.web.openapi import component

_LONGEST_STYLE = 100_000


@extend_schema_field(component("Finding"))
class FindingField(serializers.JSONField):
    """A finding document."""


class StyleRow(serializers.Serializer[Any]):
    version = serializers.IntegerField(help_text="0 for the default style")
    digest = serializers.CharField()
    state = serializers.ChoiceField(["proposed", "in force", "was in force", "declined"])
    note = serializers.CharField()
    replaces = serializers.IntegerField(help_text="the version it was written against")
    loosened = serializers.ListField(
        child=serializers.CharField(), help_text="what it lets pass that the one before did not"
    )
    by = serializers.CharField(allow_blank=True)
    at = serializers.DateTimeField(allow_null=True)
    agreed_by = serializers.CharField(allow_null=True)
    may_answer = serializers.BooleanField()


class Style(StyleRow):
    text = serializers.CharField(help_text="TOML")
    read_as_same = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField(), min_length=2, max_length=2),
        help_text="pairs of a term and what it is read as where texts are compared: agreed to by a second curator",
    )
    may_change = serializers.BooleanField()


class Styles(serializers.Serializer[Any]):
    results = StyleRow(many=True)


class StyleText(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=_LONGEST_STYLE, trim_whitespace=False, help_text="TOML")


class NewStyle(StyleText):
    note = serializers.CharField(max_length=2000, help_text="what is changed, and why")
    seen = serializers.IntegerField(
        required=False, allow_null=True, default=None, help_text="the version it was written against"
    )


class StyleAnswer(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(["agree", "decline"])
    note = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")


class DryLint(serializers.Serializer[Any]):
    snapshot = SnapshotField(help_text="a tallshelf.snapshot/1 document or a bare tools/list result")
    house_style = serializers.CharField(
        max_length=_LONGEST_STYLE,
        required=False,
        allow_null=True,
        default=None,
        trim_whitespace=False,
        help_text="TOML; the style in force by default",
    )
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    server = serializers.CharField(
        max_length=64,
        required=False,
        allow_null=True,
        default=None,
        help_text="with this server's waivers, known findings and levels",
    )


class SummaryRow(serializers.Serializer[Any]):
    rule = serializers.CharField()
    family = serializers.CharField()
    level = serializers.ChoiceField(["error", "warning", "note"])
    team = serializers.CharField()
    team_title = serializers.CharField()
    counting = serializers.IntegerField()
    waived = serializers.IntegerField()
    known = serializers.IntegerField()


class Progress(serializers.Serializer[Any]):
    done = serializers.IntegerField(help_text="servers")
    total = serializers.IntegerField()


class Summary(serializers.Serializer[Any]):
    results = SummaryRow(many=True)
    progress = Progress(
        allow_null=True, help_text="how far they are made anew, for a style that came into force"
    )


class Placed(serializers.Serializer[Any]):
    server = serializers.CharField()
    team = serializers.CharField()
    version = serializers.CharField()
    finding = FindingField()


class PlacedPage(serializers.Serializer[Any]):
    results = Placed(many=True)
    next = serializers.CharField(allow_null=True)


class ProposedKnown(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    id = FormerId()
    server = serializers.CharField()
    findings = serializers.IntegerField(help_text="how many")
    reason = serializers.CharField()
    state = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()
    may_answer = serializers.BooleanField()


class ProposedKnownList(serializers.Serializer[Any]):
    results = ProposedKnown(many=True)


class Known(serializers.Serializer[Any]):
    server = serializers.CharField()
    known = serializers.IntegerField(help_text="how many findings are accepted as known")
    proposed = ProposedKnown(allow_null=True, help_text="what waits for a second curator")


class ProposeKnown(serializers.Serializer[Any]):
    reason = serializers.CharField(max_length=2000)
