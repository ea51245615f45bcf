from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from tallshelf.core.gates import GATES
from tallshelf.core.routing import ASKED_FOR, REQUEST_KINDS
from tallshelf.service.catalog.api.serializers import Launch, SnapshotField
from tallshelf.service.kits.api.serializers import KitHitField
from tallshelf.service.web.fields import FormerId
from tallshelf.service.web.openapi import component


@extend_schema_field(component("Assessment"))
class AssessmentField(serializers.JSONField):
    """An assessment document."""


@extend_schema_field(component("ChangesSummary"))
class ChangesSummaryField(serializers.JSONField):
    """Changes in fewer words: by item, and the same at many places together."""


@extend_schema_field(Launch)
class LaunchField(serializers.JSONField):
    """A launch record, checked by the action that reads it."""


class Submission(serializers.Serializer[Any]):
    snapshot = SnapshotField(help_text="a tallshelf.snapshot/1 document or a bare tools/list result")
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    breaking = serializers.BooleanField(
        required=False, default=False, help_text="of a calendar version: that it breaks"
    )
    launch = serializers.ListField(child=LaunchField(), required=False, default=list, max_length=20)
    note = serializers.CharField(max_length=4000, required=False, allow_blank=True, default="")
    request = serializers.IntegerField(required=False, allow_null=True, default=None, min_value=1)


class Check(serializers.Serializer[Any]):
    snapshot = SnapshotField()
    version = serializers.CharField(max_length=100, required=False, allow_null=True, default=None)
    breaking = serializers.BooleanField(required=False, default=False)
    launch = serializers.ListField(
        child=LaunchField(),
        required=False,
        allow_null=True,
        default=None,
        max_length=20,
        help_text="null: not checked whether one could connect",
    )
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
    number = serializers.IntegerField()
    id = FormerId()
    kind = serializers.ChoiceField(REQUEST_KINDS)
    title = serializers.CharField(help_text="what is asked for, in words")
    state = serializers.CharField()
    server = serializers.CharField()
    version = serializers.CharField(allow_blank=True, help_text="empty for an act on the server")
    item = serializers.CharField(allow_blank=True, help_text="the suspended item, where one is meant")
    team = serializers.CharField()
    opened_by = serializers.CharField()
    opened_at = serializers.DateTimeField()
    changed_at = serializers.DateTimeField(help_text="when the ledger last told of it")
    waits_for = serializers.ListField(child=serializers.CharField())
    due_at = serializers.DateTimeField(allow_null=True)
    taken_by = serializers.CharField(allow_null=True, help_text="who looks at it now")
    mine = serializers.BooleanField(help_text="something here waits for the one who asks")
    moved = serializers.ListField(
        child=serializers.CharField(),
        help_text="what the assessment rests on and moved since; it is being assessed anew",
    )


class RequestsPage(serializers.Serializer[Any]):
    results = RequestRow(many=True)
    next = serializers.CharField(allow_null=True)


class Agreed(serializers.Serializer[Any]):
    name = serializers.CharField()
    at = serializers.DateTimeField()


class RouteDesk(serializers.Serializer[Any]):
    desk = serializers.CharField()
    title = serializers.CharField()
    lead = serializers.CharField(allow_null=True, help_text="a user name")
    needed = serializers.IntegerField()
    agreed = Agreed(many=True)
    due_at = serializers.DateTimeField()
    reasons = serializers.ListField(child=serializers.CharField())
    hints = serializers.ListField(child=serializers.CharField(), help_text="what to look at")
    standing = serializers.ChoiceField(["agreed", "asked", "later"])
    may_sign = serializers.ListField(child=serializers.CharField(), help_text="user names")


class FollowUpOfSignOff(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()
    owner = serializers.CharField()
    due = serializers.DateField()
    closed_at = serializers.DateTimeField(allow_null=True)
    closed_by = serializers.CharField(allow_null=True)
    closing_note = serializers.CharField(allow_blank=True)


class FollowUpRow(FollowUpOfSignOff):
    request = serializers.IntegerField()
    kind = serializers.ChoiceField(REQUEST_KINDS)
    server = serializers.CharField()
    version = serializers.CharField(allow_blank=True)
    asked_by = serializers.CharField()
    may_close = serializers.BooleanField()


class FollowUps(serializers.Serializer[Any]):
    results = FollowUpRow(many=True)


class Closing(serializers.Serializer[Any]):
    note = serializers.CharField(max_length=2000, help_text="what was done")


class Despite(serializers.Serializer[Any]):
    gate = serializers.ChoiceField(sorted(GATES), help_text="a gate that fails in the assessment")
    reason = serializers.CharField(max_length=1000, help_text="why one agrees all the same")


class GivenSignOff(serializers.Serializer[Any]):
    desk = serializers.CharField()
    name = serializers.CharField()
    answer = serializers.ChoiceField(["agree", "send-back", "decline"])
    note = serializers.CharField(allow_blank=True)
    at = serializers.DateTimeField()
    release_digest = serializers.CharField()
    assessment_digest = serializers.CharField()
    voided = serializers.BooleanField(help_text="given on bytes or an assessment that have moved since")
    conditions = FollowUpOfSignOff(many=True)
    despite = Despite(many=True)


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


class Terms(serializers.Serializer[Any]):
    reason = serializers.CharField(required=False)
    sunset_at = serializers.DateTimeField(required=False, allow_null=True)
    replacement = serializers.CharField(required=False, allow_blank=True)
    data_class = serializers.CharField(required=False)
    data_class_before = serializers.CharField(required=False)
    scheme = serializers.CharField(required=False)
    scheme_before = serializers.CharField(required=False)
    kit = serializers.CharField(required=False, help_text="of a use: the kit")
    team = serializers.CharField(required=False, help_text="its owner team")
    range = serializers.CharField(required=False, help_text="the versions that it picks")
    items = serializers.ListField(
        child=serializers.CharField(), required=False, help_text="the items; `reading` for all that only read"
    )
    purpose = serializers.CharField(required=False, help_text="what the kit is for")


class Said(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    text = serializers.CharField()
    name = serializers.CharField()
    at = serializers.DateTimeField()


class CommentRow(Said):
    kind = serializers.ChoiceField(["remark", "question", "objection"])
    item = serializers.CharField(allow_blank=True)
    pointer = serializers.CharField(allow_blank=True)
    quoted = serializers.CharField(allow_blank=True, help_text="what stood at the place then")
    place = serializers.ChoiceField(
        ["there", "otherwise", "gone"],
        allow_null=True,
        help_text="whether the place is there still, or reads otherwise; null: on the whole request",
    )
    settled = serializers.BooleanField(help_text="whether a question or objection was answered")
    answers = Said(many=True)


class NewComment(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=4000)
    kind = serializers.ChoiceField(["remark", "question", "objection"], required=False, default="remark")
    item = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")
    pointer = serializers.CharField(max_length=4000, required=False, allow_blank=True, default="")


class CommentAnswer(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=4000)


class TermForm(serializers.Serializer[Any]):
    name = serializers.CharField(help_text="of the member in the body of the request")
    form = serializers.ChoiceField(["date", "reference", "choice"])
    label = serializers.CharField()  # type: ignore[assignment]
    hint = serializers.CharField(allow_blank=True)
    choices = serializers.ListField(child=serializers.CharField())
    required = serializers.BooleanField()  # type: ignore[assignment]


class RequestKind(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(REQUEST_KINDS)
    subject = serializers.ChoiceField(["release", "suspension", "server"], help_text="what it is on")
    verb = serializers.CharField()
    words = serializers.CharField()
    about = serializers.CharField(help_text="what happens once the desks agree")
    button = serializers.CharField()
    done = serializers.CharField(help_text="what the subject is then")
    asked = serializers.BooleanField(help_text="whether it is asked for here; else by submitting a release")
    terms = TermForm(many=True)


class RequestKinds(serializers.Serializer[Any]):
    results = RequestKind(many=True)


class NewRequest(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(ASKED_FOR, help_text="to publish, submit a release")
    server = serializers.CharField(max_length=64)
    reason = serializers.CharField(max_length=2000)
    version = serializers.CharField(max_length=100, required=False, allow_blank=True, default="")
    item = serializers.CharField(
        max_length=2000, required=False, allow_blank=True, default="", help_text="to lift: the item"
    )
    sunset_at = serializers.DateTimeField(required=False, allow_null=True, default=None)
    replacement = serializers.CharField(max_length=170, required=False, allow_blank=True, default="")
    data_class = serializers.CharField(max_length=16, required=False, allow_blank=True, default="")
    scheme = serializers.CharField(max_length=12, required=False, allow_blank=True, default="")


class Taking(serializers.Serializer[Any]):
    hand_on = serializers.BooleanField(required=False, default=False)


class InboxEntry(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(
        [
            "risen",
            "sign",
            "publish",
            "sent-back",
            "question",
            "follow-up",
            "waiver",
            "style",
            "routing",
            "ruling",
            "known",
            "suspended",
            "kit",
        ]
    )
    words = serializers.CharField()
    page = serializers.CharField(help_text="the console's page for it")
    at = serializers.DateTimeField(help_text="since when it waits")
    due_at = serializers.DateTimeField(allow_null=True)
    overdue = serializers.BooleanField()
    risen = serializers.BooleanField(help_text="it rose to the asker as lead of a desk")


class Inbox(serializers.Serializer[Any]):
    results = InboxEntry(many=True)


class ToldTeam(serializers.Serializer[Any]):
    team = serializers.CharField()
    until = serializers.DateTimeField(help_text="until when its members may object")
    reasons = serializers.ListField(child=serializers.CharField())
    may_object = serializers.BooleanField(help_text="whether you may")


class RequestDetail(RequestRow):
    note = serializers.CharField(allow_blank=True)
    submitters = serializers.ListField(
        child=serializers.CharField(), help_text="user names of those who may not sign it"
    )
    suspended_because = serializers.CharField(allow_null=True, help_text="to lift: why it is suspended")
    terms = Terms(help_text="what else is asked for, and why")
    about = serializers.CharField(allow_null=True, help_text="the release that the assessment is of")
    release_digest = serializers.CharField(help_text="of what is agreed to")
    snapshot_digest = serializers.CharField(allow_null=True)
    release_state = serializers.CharField(allow_null=True)
    rule_set = serializers.IntegerField()
    approved_by = serializers.CharField(allow_blank=True)
    route = serializers.ListField(child=RouteDesk(many=True), help_text="steps of desks side by side")
    sign_offs = GivenSignOff(many=True)
    comments = CommentRow(many=True)
    warnings = serializers.ListField(child=serializers.CharField())
    assessment = AssessmentField()
    changes_summary = ChangesSummaryField(
        allow_null=True, help_text="the changes of the assessment; null where nothing was compared"
    )
    kits = serializers.ListField(
        child=KitHitField(), help_text="that it would hit, as they are now, worst first"
    )
    may_sign_at = serializers.ListField(child=serializers.CharField())
    may_publish = serializers.BooleanField()
    may_take_back = serializers.BooleanField()
    may_take = serializers.BooleanField()
    may_hand_on = serializers.BooleanField()
    may_comment = serializers.BooleanField()
    may_question = serializers.BooleanField()
    tells = ToldTeam(many=True, help_text="teams that are told, and may object for a while")
    restricted_to = serializers.ListField(
        child=serializers.CharField(),
        allow_null=True,
        help_text="the items that your kits hold, where you see no more of it; null: you see it whole",
    )
    last_look = LastLook(
        allow_null=True, help_text="your own answer that is void by now, and what moved since"
    )


class Publication(RequestDetail):
    checkpoint = serializers.CharField(help_text="where the ledger stands now, signed; keep it elsewhere")


class NewCondition(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=1000, help_text="what is to be done")
    owner = serializers.CharField(max_length=64, help_text="a user name")
    due = serializers.DateField(help_text="by which day")


class SignOff(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(["agree", "send-back", "decline"])
    release_digest = serializers.CharField(max_length=71, help_text="of the release that was looked at")
    assessment_digest = serializers.CharField(max_length=71, help_text="of the assessment that was looked at")
    desk = serializers.CharField(max_length=64, required=False, allow_blank=True, default="")
    note = serializers.CharField(max_length=4000, required=False, allow_blank=True, default="")
    conditions = serializers.ListField(
        child=NewCondition(), required=False, default=list, max_length=10, help_text="to agreeing"
    )
    despite = serializers.ListField(
        child=Despite(),
        required=False,
        default=list,
        max_length=len(GATES),
        help_text="to agreeing: one for each gate that fails",
    )
