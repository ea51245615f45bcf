from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from tallshelf.service.catalog.api.serializers import Launch, SnapshotField
from tallshelf.service.web.openapi import component


@extend_schema_field(component("Assessment"))
class AssessmentField(serializers.JSONField):
    """An assessment document."""


@extend_schema_field(Launch)
class LaunchField(serializers.JSONField):
    """A launch record, checked by the action that reads it."""


class Submission(serializers.Serializer[Any]):
    snapshot = SnapshotField(help_text="a tallshelf.snapshot/1 document or a bare tools/list result")
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    launch = serializers.ListField(child=LaunchField(), required=False, default=list, max_length=20)
    note = serializers.CharField(max_length=4000, required=False, allow_blank=True, default="")
    request = serializers.IntegerField(required=False, allow_null=True, default=None, min_value=1)


class Check(serializers.Serializer[Any]):
    snapshot = SnapshotField()
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    launch = serializers.ListField(child=LaunchField(), required=False, default=list, max_length=20)
    base = serializers.CharField(
        max_length=100,
        required=False,
        allow_null=True,
        default=None,
        help_text="chosen by precedence by default",
    )


class Checked(serializers.Serializer[Any]):
    assessment = AssessmentField()
    text = serializers.CharField(help_text="for a terminal")
    markdown = serializers.CharField(help_text="for a merge request")


class RequestRow(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    state = serializers.CharField()
    server = serializers.CharField()
    version = serializers.CharField()
    team = serializers.CharField()
    opened_by = serializers.CharField()
    opened_at = serializers.DateTimeField()
    waits_for = serializers.ListField(child=serializers.CharField())
    due_at = serializers.DateTimeField(allow_null=True)
    mine = serializers.BooleanField(help_text="something here waits for the one who asks")


class RequestsPage(serializers.Serializer[Any]):
    results = RequestRow(many=True)
    next = serializers.CharField(allow_null=True)


class Agreed(serializers.Serializer[Any]):
    name = serializers.CharField()
    at = serializers.DateTimeField()


class RouteDesk(serializers.Serializer[Any]):
    desk = serializers.CharField()
    title = serializers.CharField()
    needed = serializers.IntegerField()
    agreed = Agreed(many=True)
    due_at = serializers.DateTimeField()
    reasons = serializers.ListField(child=serializers.CharField())
    hints = serializers.ListField(child=serializers.CharField(), help_text="what to look at")
    standing = serializers.ChoiceField(["agreed", "asked", "later"])
    may_sign = serializers.ListField(child=serializers.CharField(), help_text="user names")


class GivenSignOff(serializers.Serializer[Any]):
    desk = serializers.CharField()
    name = serializers.CharField()
    answer = serializers.ChoiceField(["agree", "send-back", "decline"])
    note = serializers.CharField(allow_blank=True)
    at = serializers.DateTimeField()
    release_digest = serializers.CharField()
    assessment_digest = serializers.CharField()
    voided = serializers.BooleanField(help_text="given on bytes or an assessment that have moved since")


class MovedLine(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(["base", "failure", "change", "finding", "overlap", "desk"])
    item = serializers.CharField(allow_blank=True, help_text="empty: the whole release")
    words = serializers.CharField()


@extend_schema_field({"type": "array", "items": component("Change")})
class ChangesField(serializers.JSONField):
    """Changes of a comparison."""


class LastLook(GivenSignOff):
    same_release = serializers.BooleanField()
    inputs = serializers.ListField(
        child=serializers.CharField(), help_text="what the assessment rests on and moved in between"
    )
    changes = ChangesField(help_text="between the snapshot looked at and the one there is now")
    came = MovedLine(many=True)
    went = MovedLine(many=True)


class RequestDetail(RequestRow):
    note = serializers.CharField(allow_blank=True)
    release_digest = serializers.CharField()
    snapshot_digest = serializers.CharField()
    release_state = serializers.CharField()
    rule_set = serializers.IntegerField()
    approved_by = serializers.CharField(allow_blank=True)
    route = serializers.ListField(child=RouteDesk(many=True), help_text="steps of desks side by side")
    sign_offs = GivenSignOff(many=True)
    warnings = serializers.ListField(child=serializers.CharField())
    assessment = AssessmentField()
    may_sign_at = serializers.ListField(child=serializers.CharField())
    may_publish = serializers.BooleanField()
    may_take_back = serializers.BooleanField()
    last_look = LastLook(
        allow_null=True, help_text="your own answer that is void by now, and what moved since"
    )
    moved = serializers.ListField(
        child=serializers.CharField(), help_text="what the assessment rests on and has changed since"
    )


class SignOff(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(["agree", "send-back", "decline"])
    release_digest = serializers.CharField(max_length=71, help_text="of the release that was looked at")
    assessment_digest = serializers.CharField(max_length=71, help_text="of the assessment that was looked at")
    desk = serializers.CharField(max_length=64, required=False, allow_blank=True, default="")
    note = serializers.CharField(max_length=4000, required=False, allow_blank=True, default="")


class WaiverRow(serializers.Serializer[Any]):
    id = serializers.IntegerField()
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


class RoutingTrialAsked(serializers.Serializer[Any]):
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


class RoutingTrial(serializers.Serializer[Any]):
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
