from __future__ import annotations

from typing import Any

from rest_framework import serializers


class Submission(serializers.Serializer[Any]):
    snapshot = serializers.JSONField(help_text="a tallshelf.snapshot/1 document or a bare tools/list result")
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    launch = serializers.ListField(child=serializers.JSONField(), required=False, default=list, max_length=20)
    note = serializers.CharField(max_length=4000, required=False, allow_blank=True, default="")
    request = serializers.IntegerField(required=False, allow_null=True, default=None, min_value=1)


class Check(serializers.Serializer[Any]):
    snapshot = serializers.JSONField()
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    launch = serializers.ListField(child=serializers.JSONField(), required=False, default=list, max_length=20)
    base = serializers.CharField(
        max_length=100,
        required=False,
        allow_null=True,
        default=None,
        help_text="chosen by precedence by default",
    )


class Checked(serializers.Serializer[Any]):
    assessment = serializers.DictField()
    text = serializers.CharField()


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


class RequestDetail(RequestRow):
    note = serializers.CharField(allow_blank=True)
    release_digest = serializers.CharField()
    snapshot_digest = serializers.CharField()
    release_state = serializers.CharField()
    rule_set = serializers.IntegerField()
    approved_by = serializers.CharField(allow_blank=True)
    route = serializers.JSONField()
    sign_offs = serializers.JSONField()
    warnings = serializers.ListField(child=serializers.CharField())
    assessment = serializers.DictField()
    may_sign_at = serializers.ListField(child=serializers.CharField())
    may_publish = serializers.BooleanField()
    may_take_back = serializers.BooleanField()


class SignOff(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(["agree", "send-back", "decline"])
    release_digest = serializers.CharField(max_length=71, help_text="of the release that was looked at")
    desk = serializers.CharField(max_length=64, required=False, allow_blank=True, default="")
    note = serializers.CharField(max_length=4000, required=False, allow_blank=True, default="")
