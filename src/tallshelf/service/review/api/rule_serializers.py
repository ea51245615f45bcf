"""Shapes of waivers, routing rules and desks."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from tallshelf.service.web.fields import FormerId


class WaiverRow(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    id = FormerId()
    server = serializers.CharField()
    team = serializers.CharField()
    rule = serializers.CharField()
    item = serializers.CharField()
    pointer = serializers.CharField(
        allow_null=True, allow_blank=True, help_text="a place in the item; null: anywhere in it"
    )
    reason = serializers.CharField()
    until = serializers.DateTimeField()
    state = serializers.ChoiceField(["asked", "granted", "refused", "ended", "expired"])
    asked_by = serializers.CharField()
    asked_at = serializers.DateTimeField()
    answered_by = serializers.CharField(allow_null=True)
    answered_at = serializers.DateTimeField(allow_null=True)
    answer_note = serializers.CharField(allow_blank=True)
    may_answer = serializers.BooleanField()
    may_end = serializers.BooleanField()


class WaiversPage(serializers.Serializer[Any]):
    results = WaiverRow(many=True)
    next = serializers.CharField(allow_null=True)


class NewWaiver(serializers.Serializer[Any]):
    server = serializers.CharField(max_length=64)
    rule = serializers.CharField(max_length=64)
    item = serializers.CharField(
        max_length=2000, help_text="an identity such as tool:get_tide_times, or server"
    )
    pointer = serializers.CharField(
        max_length=4000, required=False, allow_null=True, allow_blank=True, default=None
    )
    reason = serializers.CharField(max_length=2000)
    until = serializers.DateTimeField(help_text="at most a year ahead")


class WaiverAnswer(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(["grant", "refuse", "end"])
    note = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")


class RoutingRow(serializers.Serializer[Any]):
    version = serializers.IntegerField(help_text="0 before any were stored")
    digest = serializers.CharField()
    state = serializers.ChoiceField(["proposed", "in force", "was in force", "declined"])
    note = serializers.CharField()
    replaces = serializers.IntegerField()
    loosened = serializers.ListField(child=serializers.CharField(), help_text="where they ask less")
    by = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)
    agreed_by = serializers.CharField(allow_null=True)
    may_answer = serializers.BooleanField()


class Routing(RoutingRow):
    text = serializers.CharField(help_text="TOML")
    may_change = serializers.BooleanField()


class RoutingVersions(serializers.Serializer[Any]):
    results = RoutingRow(many=True)


class NewRouting(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=100_000, trim_whitespace=False, help_text="TOML")
    note = serializers.CharField(max_length=2000, help_text="what is changed, and why")
    seen = serializers.IntegerField(required=False, allow_null=True, default=None)


class RoutingAnswer(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(["agree", "decline"])
    note = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")


class RoutingRehearsalAsked(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=100_000, trim_whitespace=False, help_text="TOML")
    days = serializers.IntegerField(required=False, default=90, min_value=1, max_value=366)


class DeskLoad(serializers.Serializer[Any]):
    desk = serializers.CharField()
    requests_before = serializers.IntegerField()
    requests_after = serializers.IntegerField()
    sign_offs_before = serializers.IntegerField()
    sign_offs_after = serializers.IntegerField()


class MovedRequest(serializers.Serializer[Any]):
    request = serializers.IntegerField()
    added = serializers.ListField(child=serializers.CharField(), help_text="desks asked besides")
    dropped = serializers.ListField(child=serializers.CharField(), help_text="desks not asked any more")


class RoutingRehearsal(serializers.Serializer[Any]):
    requests = serializers.IntegerField(help_text="on how many it was tried")
    desks = DeskLoad(many=True)
    moved = MovedRequest(many=True)
    approved_by_rule_before = serializers.IntegerField()
    approved_by_rule_after = serializers.IntegerField()
    loosened = serializers.ListField(child=serializers.CharField())
    faults = serializers.ListField(
        child=serializers.CharField(), help_text="what keeps them from being in force"
    )


class DeskMember(serializers.Serializer[Any]):
    username = serializers.CharField()
    name = serializers.CharField()
    since = serializers.DateTimeField()


class DeskRow(serializers.Serializer[Any]):
    desk = serializers.CharField()
    title = serializers.CharField()
    lead = serializers.CharField(allow_null=True)
    owner_team_excluded = serializers.BooleanField()
    members = DeskMember(many=True)


class Desks(serializers.Serializer[Any]):
    results = DeskRow(many=True)
