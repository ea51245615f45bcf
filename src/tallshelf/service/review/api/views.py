"""Requests over HTTP: translate, never decide."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.reports import assessment_document, assessment_markdown, assessment_text
from tallshelf.core.routing import KINDS
from tallshelf.service.catalog import linting
from tallshelf.service.ledger.checkpoints import checkpoint
from tallshelf.service.people.permissions import require
from tallshelf.service.review import actions, queries, shown
from tallshelf.service.review.api import rule_serializers
from tallshelf.service.review.api import serializers as shapes
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.paging import Order, page_of

_REQUESTS = Order(
    key="pk",
    columns={"number": "pk", "opened_at": "opened_at", "changed_at": "changed_at"},
    default="-number",
    changed="changed_at",
    as_text=True,
)
_WAIVERS = Order(
    key="pk",
    columns={"number": "pk", "until": "until", "changed_at": "changed_at"},
    default="-number",
    changed="changed_at",
)


class SubmitView(Endpoint):
    """Submit a release for review."""

    @extend_schema(
        operation_id="submit_release",
        request=shapes.Submission,
        responses={201: shapes.RequestDetail, 200: shapes.RequestDetail},
    )
    def post(self, request: Request, slug: str) -> Response:
        body = validated_body(shapes.Submission, request)
        submission = actions.read_submission(
            actor_of(request),
            body["snapshot"],
            body["version"],
            body["launch"],
            body["note"],
            breaking=body["breaking"],
        )
        found, made = actions.submit(actor_of(request), slug, submission, request=body["request"])
        return Response(shown.detail(actor_of(request), found), status=201 if made else 200)


class CheckView(Endpoint):
    """Assess a snapshot with all that the service knows, storing nothing."""

    @extend_schema(operation_id="check_snapshot", request=shapes.Check, responses=shapes.Checked)
    def post(self, request: Request, slug: str) -> Response:
        body = validated_body(shapes.Check, request)
        submission = actions.read_submission(
            actor_of(request),
            body["snapshot"],
            body["version"],
            body["launch"],
            breaking=body["breaking"],
        )
        assessment = actions.check(actor_of(request), slug, submission, base=body["base"])
        name = f"{slug} {submission.version}"
        return Response(
            {
                "assessment": assessment_document(assessment),
                "text": assessment_text(assessment, name),
                "markdown": assessment_markdown(assessment, name),
            }
        )


class RequestsView(Endpoint):
    """Requests, newest first; or those alone in which something waits for the asker, oldest first."""

    @extend_schema(
        operation_id="list_requests",
        parameters=[
            OpenApiParameter("state", description="a state, or `live` for all undecided ones"),
            OpenApiParameter("server"),
            OpenApiParameter("team"),
            OpenApiParameter("kind", description="what is asked for, as `request-kinds` names it"),
            OpenApiParameter("q", description="words that are in what is asked about, or in who asked"),
            OpenApiParameter("mine", bool, description="only what waits for the asker, on one page"),
            *_REQUESTS.parameters,
        ],
        responses=shapes.RequestsPage,
    )
    def get(self, request: Request) -> Response:
        who, asked = actor_of(request), request.query_params
        if asked.get("mine") == "true":
            return Response({"results": queries.waiting_for(who), "next": None})
        names = ("state", "server", "team", "kind", "q")
        rows = queries.requests(who, **{name: asked.get(name, "") for name in names})
        found, following = page_of(request, rows, _REQUESTS)
        return Response({"results": queries.rows_for(who, found), "next": following})

    @extend_schema(
        operation_id="ask",
        request=shapes.NewRequest,
        responses={201: shapes.RequestDetail, 200: shapes.RequestDetail},
    )
    def post(self, request: Request) -> Response:
        """Ask to deprecate or withdraw a release, to lift a suspension, or for another data class or version scheme."""
        who, body = actor_of(request), validated_body(shapes.NewRequest, request)
        found, made = actions.ask(who, actions.RequestDraft(**body))
        return Response(shown.detail(who, found), status=201 if made else 200)


class RequestView(Endpoint):
    """One request with its facts, route, sign-offs and assessment."""

    @extend_schema(operation_id="get_request", responses=shapes.RequestDetail)
    def get(self, request: Request, number: int) -> Response:
        return Response(shown.detail(actor_of(request), queries.request(actor_of(request), number)))


class RequestKindsView(Endpoint):
    """What may be asked for, and how each is filled in."""

    @extend_schema(operation_id="list_request_kinds", responses=shapes.RequestKinds)
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see")
        return Response({"results": [kind.document() for kind in KINDS.values()]})


class SignOffsView(Endpoint):
    """Answer a request."""

    @extend_schema(operation_id="sign_off", request=shapes.SignOff, responses=shapes.RequestDetail)
    def post(self, request: Request, number: int) -> Response:
        body = validated_body(shapes.SignOff, request)
        despite = {one["gate"]: one["reason"] for one in body.pop("despite")}
        found = actions.sign_off(actor_of(request), number, body.pop("answer"), despite=despite, **body)
        return Response(shown.detail(actor_of(request), found))


class PublicationView(Endpoint):
    """Publish what was agreed to."""

    @extend_schema(operation_id="publish", request=None, responses=shapes.Publication)
    def post(self, request: Request, number: int) -> Response:
        found = actions.publish(actor_of(request), number)
        return Response({**shown.detail(actor_of(request), found), "checkpoint": checkpoint()})


class TakeBackView(Endpoint):
    """Take a request back."""

    @extend_schema(operation_id="take_back", request=None, responses=shapes.RequestDetail)
    def post(self, request: Request, number: int) -> Response:
        return Response(shown.detail(actor_of(request), actions.take_back(actor_of(request), number)))


class AssessmentView(Endpoint):
    """Assess a request anew when something that its assessment rests on has moved."""

    @extend_schema(operation_id="reassess", request=None, responses=shapes.RequestDetail)
    def post(self, request: Request, number: int) -> Response:
        return Response(shown.detail(actor_of(request), actions.reassess(actor_of(request), number)))


class WaiversView(Endpoint):
    """Waivers, newest first."""

    @extend_schema(
        operation_id="list_waivers",
        parameters=[
            OpenApiParameter("server"),
            OpenApiParameter("rule"),
            OpenApiParameter("state", enum=["asked", "granted", "refused", "ended", "expired"]),
            *_WAIVERS.parameters,
        ],
        responses=rule_serializers.WaiversPage,
    )
    def get(self, request: Request) -> Response:
        who = actor_of(request)
        asked = {name: request.query_params.get(name, "") for name in ("server", "rule", "state")}
        found, following = page_of(request, linting.waivers(who, **asked), _WAIVERS)
        return Response({"results": [linting.waiver_row(who, one) for one in found], "next": following})

    @extend_schema(
        operation_id="ask_waiver",
        request=rule_serializers.NewWaiver,
        responses={201: rule_serializers.WaiverRow},
    )
    def post(self, request: Request) -> Response:
        """Ask that a rule be set aside for an item."""
        who, body = actor_of(request), validated_body(rule_serializers.NewWaiver, request)
        made, new = actions.ask_waiver(who, body.pop("server"), **body)
        row = linting.waiver_row(who, linting.waiver(who, made.pk))
        return Response(row, status=201 if new else 200)


class WaiverAnswerView(Endpoint):
    """Grant, refuse or end a waiver."""

    @extend_schema(
        operation_id="answer_waiver",
        request=rule_serializers.WaiverAnswer,
        responses=rule_serializers.WaiverRow,
    )
    def post(self, request: Request, number: int) -> Response:
        who, body = actor_of(request), validated_body(rule_serializers.WaiverAnswer, request)
        actions.answer_waiver(who, number, body["answer"], body["note"])
        return Response(linting.waiver_row(who, linting.waiver(who, number)))
