from __future__ import annotations

from typing import Any

from rest_framework import serializers

from tallshelf.service.people.actor import SCOPES

ROLES = ("reader", "submitter", "curator", "steward", "ci")


class SignIn(serializers.Serializer[Any]):
    username = serializers.CharField(max_length=64)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class Me(serializers.Serializer[Any]):
    username = serializers.CharField()
    name = serializers.CharField()
    role = serializers.ChoiceField(ROLES)
    teams = serializers.ListField(child=serializers.CharField())
    desks = serializers.ListField(child=serializers.CharField())


class Session(serializers.Serializer[Any]):
    person = Me(allow_null=True)
    elsewhere = serializers.CharField(
        allow_null=True, help_text="what else one may sign in by, at /oidc/begin; null: nothing"
    )
    passwords = serializers.BooleanField(help_text="whether one may sign in by a password")


class PersonToken(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    scopes = serializers.ListField(child=serializers.CharField())
    expires_at = serializers.DateTimeField()


class PersonRow(serializers.Serializer[Any]):
    username = serializers.CharField()
    name = serializers.CharField()
    role = serializers.ChoiceField(ROLES)
    active = serializers.BooleanField()
    teams = serializers.ListField(child=serializers.CharField())
    desks = serializers.ListField(child=serializers.CharField())
    sessions = serializers.IntegerField(help_text="how many sign-ins to the console stand")
    tokens = PersonToken(many=True)
    last_used_at = serializers.DateTimeField(allow_null=True)
    invited_until = serializers.DateTimeField(allow_null=True)


class People(serializers.Serializer[Any]):
    results = PersonRow(many=True)


class NewPerson(serializers.Serializer[Any]):
    username = serializers.CharField(max_length=64)
    name = serializers.CharField(max_length=100)
    role = serializers.ChoiceField(ROLES)
    teams = serializers.ListField(child=serializers.CharField(max_length=64), required=False, default=list)


class Invited(serializers.Serializer[Any]):
    username = serializers.CharField()
    code = serializers.CharField(
        allow_blank=True, help_text="of the invitation, shown this once; empty for a CI account"
    )


class PersonEdit(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=100, required=False)
    role = serializers.ChoiceField(ROLES, required=False)
    teams = serializers.ListField(child=serializers.CharField(max_length=64), required=False)
    active = serializers.BooleanField(required=False)


class Acceptance(serializers.Serializer[Any]):
    code = serializers.CharField(max_length=200, trim_whitespace=False)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class DeputyRow(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    person = serializers.CharField()
    deputy = serializers.CharField()
    since = serializers.DateTimeField()
    until = serializers.DateTimeField()
    own = serializers.BooleanField(help_text="whether it is the asker's, to end")


class Deputies(serializers.Serializer[Any]):
    results = DeputyRow(many=True)


class NewDeputy(serializers.Serializer[Any]):
    deputy = serializers.CharField(max_length=64, help_text="a user name")
    until = serializers.DateTimeField(help_text="at most 92 days on")
    since = serializers.DateTimeField(required=False, allow_null=True, default=None, help_text="now, if not")


class NewToken(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=100)
    scopes = serializers.ListField(child=serializers.ChoiceField(SCOPES), allow_empty=False)
    days = serializers.IntegerField(min_value=1, max_value=366, default=90)


class TokenRow(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    scopes = serializers.ListField(child=serializers.CharField())
    created_at = serializers.DateTimeField()
    expires_at = serializers.DateTimeField()
    last_used_at = serializers.DateTimeField(allow_null=True)


class TokensPage(serializers.Serializer[Any]):
    results = TokenRow(many=True)
    next = serializers.CharField(allow_null=True)


class SessionRow(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    browser = serializers.CharField(allow_blank=True)
    started_at = serializers.DateTimeField()
    last_used_at = serializers.DateTimeField()
    own = serializers.BooleanField(help_text="the session that asks")


class SessionsPage(serializers.Serializer[Any]):
    results = SessionRow(many=True)
    next = serializers.CharField(allow_null=True)


class NewPassword(serializers.Serializer[Any]):
    old = serializers.CharField(max_length=200, trim_whitespace=False)
    new = serializers.CharField(max_length=200, trim_whitespace=False)


class MadeToken(TokenRow):
    secret = serializers.CharField(help_text="shown this once")


class TeamRow(serializers.Serializer[Any]):
    slug = serializers.CharField()
    title = serializers.CharField()


class TeamsPage(serializers.Serializer[Any]):
    results = TeamRow(many=True)
    next = serializers.CharField(allow_null=True)
