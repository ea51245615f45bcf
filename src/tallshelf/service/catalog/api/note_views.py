"""Notes of users on releases, over HTTP."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.service.catalog import actions, queries
from tallshelf.service.catalog.models import UserNote
from tallshelf.service.people.permissions import refusal
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint


class NoteText(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=UserNote.LONGEST)


class UserNoteRow(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    text = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()
    answer = serializers.CharField(help_text="of its owners; empty: none yet")
    answered_by = serializers.CharField(allow_null=True)
    answered_at = serializers.DateTimeField(allow_null=True)
    may_answer = serializers.BooleanField()
    may_remove = serializers.BooleanField()


class UserNotes(serializers.Serializer[Any]):
    results = UserNoteRow(many=True)
    may_leave = serializers.BooleanField(help_text="whether you may leave one")


class NotesView(Endpoint):
    """What users say of a release."""

    @extend_schema(operation_id="list_user_notes", responses=UserNotes)
    def get(self, request: Request, slug: str, version: str) -> Response:
        return Response(_notes(request, slug, version))

    @extend_schema(operation_id="leave_note", request=NoteText, responses=UserNotes)
    def post(self, request: Request, slug: str, version: str) -> Response:
        """Leave a note: what it works for, what to know."""
        actions.leave_note(actor_of(request), slug, version, **validated_body(NoteText, request))
        return Response(_notes(request, slug, version))


class NoteAnswerView(Endpoint):
    """The owners' answer to a note."""

    @extend_schema(operation_id="answer_note", request=NoteText, responses=UserNoteRow)
    def post(self, request: Request, number: int) -> Response:
        note = actions.answer_note(actor_of(request), number, **validated_body(NoteText, request))
        return Response(_row(request, note))


class NoteView(Endpoint):
    """One note."""

    @extend_schema(operation_id="remove_note", responses={204: None})
    def delete(self, request: Request, number: int) -> Response:
        actions.remove_note(actor_of(request), number)
        return Response(status=204)


def _notes(request: Request, slug: str, version: str) -> dict[str, Any]:
    actor = actor_of(request)
    release = queries.release(actor, slug, version)
    in_use = release.state in ("published", "deprecated")
    return {
        "results": [_row(request, note) for note in queries.notes(release)],
        "may_leave": in_use and refusal(actor, "leave-note") is None,
    }


def _row(request: Request, note: UserNote) -> dict[str, Any]:
    actor = actor_of(request)
    own = note.by_id == actor.id and refusal(actor, "leave-note") is None
    return {
        "number": note.pk,
        "text": note.text,
        "by": note.by.name,
        "at": note.at,
        "answer": note.answer,
        "answered_by": note.answered_by.name if note.answered_by else None,
        "answered_at": note.answered_at,
        "may_answer": refusal(actor, "edit", note.release.server.team.slug) is None,
        "may_remove": own or refusal(actor, "curate") is None,
    }
