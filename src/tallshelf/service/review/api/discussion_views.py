"""Comments, taking, follow-ups and the inbox over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.service.review import actions, queries, shown
from tallshelf.service.review.api import serializers as shapes
from tallshelf.service.review.inbox import inbox
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint


class CommentsView(Endpoint):
    """Say something on a request, or ask."""

    @extend_schema(operation_id="comment", request=shapes.NewComment, responses={201: shapes.RequestDetail})
    def post(self, request: Request, number: int) -> Response:
        who, body = actor_of(request), validated_body(shapes.NewComment, request)
        actions.comment(who, number, **body)
        return Response(shown.detail(who, queries.request(who, number)), status=201)


class CommentAnswerView(Endpoint):
    """Answer a comment."""

    @extend_schema(
        operation_id="answer_comment", request=shapes.CommentAnswer, responses={201: shapes.RequestDetail}
    )
    def post(self, request: Request, number: int, comment: int) -> Response:
        who, body = actor_of(request), validated_body(shapes.CommentAnswer, request)
        actions.answer_comment(who, number, comment, body["text"])
        return Response(shown.detail(who, queries.request(who, number)), status=201)


class TakingView(Endpoint):
    """Take a request, so that others see who looks at it; or hand it on."""

    @extend_schema(operation_id="take", request=shapes.Taking, responses=shapes.RequestDetail)
    def post(self, request: Request, number: int) -> Response:
        who, body = actor_of(request), validated_body(shapes.Taking, request)
        return Response(shown.detail(who, actions.take(who, number, **body)))


class FollowUpsView(Endpoint):
    """Follow-ups of sign-offs that stand, those due first before others."""

    @extend_schema(
        operation_id="list_follow_ups",
        parameters=[
            OpenApiParameter("state", enum=["open", "closed"]),
            OpenApiParameter("mine", bool, description="only those that the asker owns"),
        ],
        responses=shapes.FollowUps,
    )
    def get(self, request: Request) -> Response:
        asked = request.query_params
        mine = asked.get("mine") == "true"
        found = queries.follow_ups(actor_of(request), state=asked.get("state", ""), mine=mine)
        return Response({"results": found})


class ClosingView(Endpoint):
    """Close a follow-up."""

    @extend_schema(operation_id="close_follow_up", request=shapes.Closing, responses=shapes.FollowUpRow)
    def post(self, request: Request, number: int) -> Response:
        who, body = actor_of(request), validated_body(shapes.Closing, request)
        actions.close_follow_up(who, number, body["note"])
        return Response(queries.follow_up_row(who, queries.follow_up(who, number)))


class InboxView(Endpoint):
    """What waits for the asker, the most pressing first."""

    by_hand = False  # an open page asks every other minute

    @extend_schema(operation_id="inbox", responses=shapes.Inbox)
    def get(self, request: Request) -> Response:
        return Response({"results": inbox(actor_of(request))})
