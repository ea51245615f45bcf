"""What all endpoints share: unknown query parameters are refused, and a POST takes an ``Idempotency-Key``.

The parameters that an endpoint knows are those that it reads, so that none is forgotten in a list.
"""

from __future__ import annotations

import difflib
from collections.abc import Iterator
from typing import Any

from django.http import QueryDict
from rest_framework.permissions import SAFE_METHODS
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from tallshelf.core.errors import BadArgument
from tallshelf.service.unwritten import refuse_if_gone, write_if_it_can
from tallshelf.service.web import idempotency

_SHOWN = 40


class Endpoint(APIView):
    """One address of the API.

    ``answers_secrets`` names one whose POST answers with a secret, or signs in: its answer is not kept, and a key is
    refused.
    """

    answers_secrets = False

    def initialize_request(self, request: Any, *args: Any, **kwargs: Any) -> Request:
        request.GET = _Watched(request.GET)
        return super().initialize_request(request, *args, **kwargs)

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        super().initial(request, *args, **kwargs)
        if request.method not in SAFE_METHODS:  # nothing that writes takes any
            _refuse_unknown(request)
            refuse_if_gone()
        self._kept = None
        if request.method == "POST" and (key := idempotency.key_of(request)):
            if self.answers_secrets:
                raise BadArgument(
                    "an Idempotency-Key does not go with this: the answer is not kept",
                    remedy="Leave it out; ask what is there before you repeat it.",
                )
            self._kept = idempotency.Kept(request, key)
            if replayed := self._kept.answer():
                raise _Replay(replayed)

    def handle_exception(self, exc: Exception) -> Response:
        return exc.answer if isinstance(exc, _Replay) else super().handle_exception(exc)

    def finalize_response(self, request: Request, response: Any, *args: Any, **kwargs: Any) -> Any:
        if request.method in SAFE_METHODS and response.status_code < 400:
            try:
                _refuse_unknown(request)
            except BadArgument as error:
                response = self.handle_exception(error)
        response = super().finalize_response(request, response, *args, **kwargs)
        kept = getattr(self, "_kept", None)
        if kept is not None and response.status_code < 400 and "Idempotency-Replayed" not in response:
            # The act is done, whether its answer can be kept or not.
            write_if_it_can(lambda: kept.keep(response))
        return response


class _Replay(Exception):
    """Carries the kept answer past the view."""

    def __init__(self, answer: Response) -> None:
        super().__init__()
        self.answer = answer


class _Watched(QueryDict):
    """The query parameters of a request, and the names of those that were read."""

    def __init__(self, given: QueryDict) -> None:
        super().__init__(given.urlencode(), mutable=False, encoding=given.encoding)
        self.read: set[str] = set()

    def get(self, key: Any, default: Any = None) -> Any:
        self.read |= {key} if isinstance(key, str) else set()
        return super().get(key, default)

    def __getitem__(self, key: Any) -> Any:
        self.read |= {key} if isinstance(key, str) else set()
        return super().__getitem__(key)

    def getlist(self, key: Any, default: Any = None) -> Any:
        self.read |= {key} if isinstance(key, str) else set()
        return super().getlist(key, default)

    def unread(self) -> Iterator[str]:
        yield from (str(name) for name in self if name not in self.read)


def _refuse_unknown(request: Request) -> None:
    given = request._request.GET
    if not isinstance(given, _Watched):
        return
    for name in given.unread():
        near = difflib.get_close_matches(name, sorted(given.read), 1, 0.6)
        known = ", ".join(sorted(given.read))
        raise BadArgument(
            f"there is no query parameter {name[:_SHOWN]!r} here",
            remedy=f"Did you mean {near[0]}?"
            if near
            else f"It takes {known}."
            if known
            else "It takes none.",
        )
