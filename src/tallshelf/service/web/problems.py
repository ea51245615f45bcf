"""Errors as problem documents (RFC 9457): the one place where they become HTTP."""

from __future__ import annotations

import sys
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError, DataError, IntegrityError, ProgrammingError
from django.http import Http404, HttpRequest, JsonResponse
from rest_framework import exceptions
from rest_framework.response import Response

from tallshelf.core.errors import (
    BadArgument,
    BadDocument,
    Conflict,
    Denied,
    LedgerBroken,
    NotFound,
    NotInstalled,
    Outdated,
    OverLimit,
    Place,
    ServiceFault,
    ShelfError,
    SignInNeeded,
    TooSlow,
    Unavailable,
    Unreachable,
)
from tallshelf.service.unwritten import unavailable
from tallshelf.service.web.logs import note, request_id

STATUS: dict[type[ShelfError], int] = {
    ShelfError: 500,
    BadArgument: 400,
    BadDocument: 422,
    OverLimit: 413,
    NotFound: 404,
    Conflict: 409,
    Outdated: 412,
    Denied: 403,
    SignInNeeded: 401,
    Unreachable: 502,
    ServiceFault: 500,
    Unavailable: 503,
    TooSlow: 408,
    LedgerBroken: 503,
    NotInstalled: 501,
}


def status_of(error: ShelfError) -> int:
    """Return the HTTP status for an error."""
    return status_of_type(type(error))


def status_of_type(kind: type[ShelfError]) -> int:
    """Return the HTTP status for a type of error."""
    return next(STATUS[cls] for cls in kind.__mro__ if cls in STATUS)


def problem(error: ShelfError) -> dict[str, Any]:
    """Return the problem document for an error."""
    document: dict[str, Any] = {
        "type": f"urn:tallshelf:problem:{error.code}",
        "title": error.title,
        "status": status_of(error),
        "detail": error.reason,
        "help": f"/problems/{error.code}",
    }
    if request_id():
        document["request_id"] = request_id()
    if error.remedy:
        document["remedy"] = error.remedy
    if error.places:
        document["errors"] = [{"pointer": place.pointer, "detail": place.detail} for place in error.places]
    return document


def headers_of(error: ShelfError) -> dict[str, str]:
    """Return the headers that go with the answer to an error."""
    if isinstance(error, SignInNeeded):
        return {"WWW-Authenticate": "Bearer"}
    if isinstance(error, Unavailable):
        return {"Retry-After": "5"}
    return {"Retry-After": "60"} if status_of(error) == 503 else {}


_HOW_IT_WAS_SENT = (
    exceptions.MethodNotAllowed,
    exceptions.NotAcceptable,
    exceptions.UnsupportedMediaType,
)


def handle(raised: Exception, context: dict[str, Any]) -> Response | None:
    """Answer any error that a view raised; None leaves it to Django (a 500 with a log entry)."""
    error = _translate(raised)
    if error is None:
        return None
    note(context["request"], problem=error.code)
    response = Response(
        problem(error),
        status=status_of(error),
        content_type="application/problem+json",
        headers=headers_of(error),
    )
    if response.status_code == 401:  # as the view takes credentials: feeds do by Basic
        response["WWW-Authenticate"] = context["view"].get_authenticate_header(context["request"]) or "Bearer"
    if isinstance(raised, _HOW_IT_WAS_SENT):
        response.status_code = response.data["status"] = raised.status_code
    if isinstance(raised, exceptions.Throttled):
        response.status_code = response.data["status"] = 429
        response["Retry-After"] = str(int(getattr(raised, "wait", None) or 60))
    return response


def fault(request: HttpRequest) -> JsonResponse:
    """Answer what no view could: 503 where the database is at fault, else 500; never a page of Django's."""
    raised = sys.exc_info()[1]
    error = _translate(raised) if isinstance(raised, Exception) else None
    if error is None or status_of(error) < 500:
        error = ServiceFault("the service failed", remedy="Try again; hand on the request id where it stays.")
    return _answer(error)


def refused(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """Answer a request that Django refuses before any view sees it."""
    return _answer(BadArgument("the request cannot be read", remedy="See /api/v1/openapi.json."))


def forged(request: HttpRequest, reason: str = "") -> JsonResponse:
    """Answer a write from a browser that brings no CSRF token, or one of another site."""
    return _answer(Denied(f"CSRF check failed: {reason}", remedy="Load the console again, and try again."))


def _answer(error: ShelfError) -> JsonResponse:
    return JsonResponse(
        problem(error),
        status=status_of(error),
        content_type="application/problem+json",
        headers=headers_of(error),
    )


def _translate(raised: Exception) -> ShelfError | None:
    if isinstance(raised, ShelfError):
        return raised
    if isinstance(raised, DatabaseError) and not isinstance(
        raised, IntegrityError | DataError | ProgrammingError
    ):
        return unavailable(raised)
    if isinstance(raised, exceptions.ValidationError):
        places = tuple(_places(raised.detail, ""))
        first = places[0]
        return BadArgument(f"{first.pointer or 'the body'}: {first.detail}", places=places)
    if isinstance(raised, exceptions.NotAuthenticated):
        return SignInNeeded("nobody is signed in", remedy="Sign in, or send a bearer token.")
    if isinstance(raised, exceptions.AuthenticationFailed):
        return SignInNeeded(str(raised.detail), remedy="Sign in, or send a token as a bearer token.")
    if isinstance(raised, exceptions.Throttled):
        return Denied("too many attempts in a short time", remedy="Wait a minute and try again.")
    if isinstance(raised, exceptions.PermissionDenied):
        return Denied(str(raised.detail))
    if isinstance(raised, Http404 | exceptions.NotFound):
        return NotFound("there is nothing at this address")
    if isinstance(raised, RequestDataTooBig):
        return OverLimit("the request is larger than 8 MB")
    if isinstance(raised, exceptions.APIException):
        return BadArgument(str(raised.detail))
    return None


def _places(detail: Any, pointer: str) -> list[Place]:
    if isinstance(detail, dict):
        return [
            place
            for name, child in detail.items()
            for place in _places(child, pointer if name == "non_field_errors" else f"{pointer}/{name}")
        ]
    if isinstance(detail, list):
        return [
            place
            for index, child in enumerate(detail)
            for place in (
                _places(child, f"{pointer}/{index}")
                if isinstance(child, dict) and child
                else _places(child, pointer)
            )
            if not isinstance(child, dict) or child
        ]
    return [Place(pointer, str(detail))]
