"""How people are reached, over HTTP: what they follow, and where they get mail."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.service.telling import following
from tallshelf.service.telling.models import WAYS
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint


class FollowingRow(serializers.Serializer[Any]):
    about = serializers.CharField(max_length=80, help_text="catalog, server:SLUG, kit:NAME or team:SLUG")
    how = serializers.ChoiceField(WAYS)


class Followings(serializers.Serializer[Any]):
    results = FollowingRow(many=True)


class NewFollowing(serializers.Serializer[Any]):
    about = serializers.CharField(max_length=80, help_text="catalog, server:SLUG, kit:NAME or team:SLUG")
    how = serializers.ChoiceField((*WAYS, "default"), help_text="default: as if nothing had been chosen")


class FollowingView(Endpoint):
    """What you follow."""

    @extend_schema(operation_id="list_following", responses=Followings)
    def get(self, request: Request) -> Response:
        return Response({"results": following.followings(actor_of(request))})

    @extend_schema(operation_id="follow", request=NewFollowing, responses=Followings)
    def put(self, request: Request) -> Response:
        """Choose how you are told of a thing."""
        actor = actor_of(request)
        following.follow(actor, **validated_body(NewFollowing, request))
        return Response({"results": following.followings(actor)})


class Mail(serializers.Serializer[Any]):
    address = serializers.CharField(help_text="empty: none")
    confirmed = serializers.BooleanField(help_text="whether the code that was sent there came back")
    how = serializers.ChoiceField(WAYS[:3], help_text="of what your teams own and your desks are asked")
    sends = serializers.BooleanField(help_text="whether this service sends mail")


class NewMail(serializers.Serializer[Any]):
    address = serializers.CharField(
        max_length=254, required=False, allow_blank=True, help_text="a code goes there; empty: no mail"
    )
    how = serializers.ChoiceField(WAYS[:3], required=False)


class Code(serializers.Serializer[Any]):
    code = serializers.CharField(max_length=40)


class MailView(Endpoint):
    """Where you get mail, and how."""

    @extend_schema(operation_id="get_mail", responses=Mail)
    def get(self, request: Request) -> Response:
        return Response(following.mail_of(actor_of(request)))

    @extend_schema(operation_id="set_mail", request=NewMail, responses=Mail)
    def patch(self, request: Request) -> Response:
        actor, body = actor_of(request), validated_body(NewMail, request)
        following.change_mail(actor, address=body.get("address"), how=body.get("how"))
        return Response(following.mail_of(actor))


class ConfirmationView(Endpoint):
    """Confirm an address by the code that was sent there."""

    @extend_schema(operation_id="confirm_mail", request=Code, responses=Mail)
    def post(self, request: Request) -> Response:
        actor = actor_of(request)
        following.confirm_mail(actor, validated_body(Code, request)["code"])
        return Response(following.mail_of(actor))
