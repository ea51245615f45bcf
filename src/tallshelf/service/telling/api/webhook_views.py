"""Webhooks and what was sent, over HTTP."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.errors import BadArgument
from tallshelf.service.people.permissions import refusal
from tallshelf.service.telling import webhooks
from tallshelf.service.telling.models import Delivery, Webhook
from tallshelf.service.telling.queries import words_of_entries
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.paging import Order, page_of


class WebhookRow(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    team = serializers.CharField(source="team.slug")
    address = serializers.CharField()
    about = serializers.ChoiceField(Webhook.ABOUT)
    types = serializers.ListField(child=serializers.CharField(), help_text="empty: all")
    made_by = serializers.CharField(source="made_by.name")
    made_at = serializers.DateTimeField()
    rotated_at = serializers.DateTimeField(allow_null=True)
    failures = serializers.IntegerField(help_text="how often in a row it failed")
    resting_until = serializers.DateTimeField(allow_null=True, help_text="when it is tried again")
    ended_at = serializers.DateTimeField(allow_null=True)
    end_reason = serializers.CharField()
    waiting = serializers.IntegerField(help_text="messages that wait to be sent")
    lost = serializers.IntegerField(help_text="messages that could not be delivered")
    may_keep = serializers.BooleanField(help_text="whether you may rotate and end it")


class Webhooks(serializers.Serializer[Any]):
    results = WebhookRow(many=True)


class NewWebhook(serializers.Serializer[Any]):
    team = serializers.CharField(max_length=64)
    address = serializers.CharField(max_length=500, help_text="of an origin that the settings allow")
    about = serializers.ChoiceField(
        Webhook.ABOUT,
        default="team",
        help_text="team: what concerns it; catalog: all that is published as well",
    )
    types = serializers.ListField(
        child=serializers.CharField(max_length=40), required=False, default=list, help_text="empty: all"
    )


class MadeWebhook(WebhookRow):
    secret = serializers.CharField(help_text="signs what is sent; shown this once")


class EndWebhook(serializers.Serializer[Any]):
    reason = serializers.CharField(max_length=300)


class DeliveryRow(serializers.Serializer[Any]):
    key = serializers.CharField(help_text="its webhook-id or Message-ID, the same over retries")
    state = serializers.ChoiceField(Delivery.STATES)
    to = serializers.CharField(help_text="the address of a webhook, or the user name of who gets mail")
    webhook = serializers.IntegerField(allow_null=True)
    entry = serializers.IntegerField(help_text="the ledger's entry that it tells of; 0: none")
    words = serializers.CharField()
    attempts = serializers.IntegerField()
    answer = serializers.CharField(help_text="the code that was answered last")
    error = serializers.CharField()
    due_at = serializers.DateTimeField()
    made_at = serializers.DateTimeField()
    ended_at = serializers.DateTimeField(allow_null=True)


class DeliveriesPage(serializers.Serializer[Any]):
    results = DeliveryRow(many=True)
    next = serializers.CharField(allow_null=True)


class WebhooksView(Endpoint):
    """The webhooks of your teams; curators see all."""

    answers_secrets = True

    @extend_schema(operation_id="list_webhooks", responses=Webhooks)
    def get(self, request: Request) -> Response:
        rows = webhooks.webhooks(actor_of(request))
        return Response({"results": [_row(request, webhook) for webhook in rows]})

    @extend_schema(operation_id="make_webhook", request=NewWebhook, responses={201: MadeWebhook})
    def post(self, request: Request) -> Response:
        """Have events sent to an address, signed by the secret that is answered."""
        made, secret = webhooks.make_webhook(actor_of(request), **validated_body(NewWebhook, request))
        return Response({**_shown(request, made.pk), "secret": secret}, status=201)


class WebhookView(Endpoint):
    """One webhook."""

    @extend_schema(operation_id="get_webhook", responses=WebhookRow)
    def get(self, request: Request, number: int) -> Response:
        return Response(_shown(request, number))


class EndView(Endpoint):
    """The end of a webhook."""

    @extend_schema(operation_id="end_webhook", request=EndWebhook, responses=WebhookRow)
    def post(self, request: Request, number: int) -> Response:
        """End it: nothing more is sent there."""
        webhooks.end_webhook(actor_of(request), number, **validated_body(EndWebhook, request))
        return Response(_shown(request, number))


class SecretView(Endpoint):
    """A new secret of a webhook; the one before signs for a day as well."""

    answers_secrets = True

    @extend_schema(operation_id="rotate_webhook", request=None, responses={201: MadeWebhook})
    def post(self, request: Request, number: int) -> Response:
        _, secret = webhooks.rotate(actor_of(request), number)
        return Response({**_shown(request, number), "secret": secret}, status=201)


class TrialView(Endpoint):
    """A trial: an event that nothing happened."""

    @extend_schema(operation_id="try_webhook", request=None, responses=WebhookRow)
    def post(self, request: Request, number: int) -> Response:
        webhooks.send_trial(actor_of(request), number)
        return Response(_shown(request, number))


_ORDER = Order(key="pk", columns={"id": "pk"}, default="-id", changed="made_at")
_STATE = OpenApiParameter("state", enum=Delivery.STATES)


class SentView(Endpoint):
    """What was sent to a webhook, and what is to be."""

    @extend_schema(
        operation_id="list_webhook_deliveries",
        parameters=[_STATE, *_ORDER.parameters],
        responses=DeliveriesPage,
    )
    def get(self, request: Request, number: int) -> Response:
        return Response(_page(request, number))


class DeliveriesView(Endpoint):
    """What was sent and is to be sent, to webhooks and by mail: for stewards."""

    @extend_schema(
        operation_id="list_deliveries", parameters=[_STATE, *_ORDER.parameters], responses=DeliveriesPage
    )
    def get(self, request: Request) -> Response:
        return Response(_page(request, 0))


class ResendView(Endpoint):
    """Send a message again, under its own name."""

    @extend_schema(operation_id="resend", request=None, responses={204: None})
    def post(self, request: Request, key: str) -> Response:
        webhooks.resend(actor_of(request), key)
        return Response(status=204)


def _shown(request: Request, number: int) -> dict[str, Any]:
    return _row(request, webhooks.webhook(actor_of(request), number))


def _row(request: Request, webhook: Webhook) -> dict[str, Any]:
    webhook.may_keep = (  # type: ignore[attr-defined]
        webhook.ended_at is None and refusal(actor_of(request), "keep-webhook", webhook.team.slug) is None
    )
    return dict(WebhookRow(webhook).data)


def _page(request: Request, number: int) -> dict[str, Any]:
    state = request.query_params.get("state", "")
    if state and state not in Delivery.STATES:
        raise BadArgument(
            f"no message is {state[:20]!r}", remedy=f"It is one of {', '.join(Delivery.STATES)}."
        )
    rows = webhooks.deliveries(actor_of(request), state=state, number=number)
    found, following = page_of(request, rows, _ORDER)
    words = words_of_entries(row["entry"] for row in found if row["webhook_id"])
    return {"results": [_sent(row, words) for row in found], "next": following}


def _sent(row: dict[str, Any], words: dict[int, str]) -> dict[str, Any]:
    mail = "a digest" if row["digest"] else row["notice__words"] or "the code that confirms an address"
    event = words.get(row["entry"], "a trial")
    return {
        **{name: row[name] for name in _SAME},
        "to": row["webhook__address"] or row["person__username"],
        "webhook": row["webhook_id"],
        "words": event if row["webhook_id"] else mail,
    }


_SAME = (
    "key", "state", "entry", "attempts", "answer", "error", "due_at", "made_at", "ended_at"
)  # fmt: skip
