"""``Idempotency-Key`` on POST: the same key with the same request is answered the same, once done.

An answer belongs to the token or session that asked. Actions are safe to repeat by themselves; the key spares a
client that lost an answer from having to tell "done before" from "done now". Failures are not kept, so they can be
retried.
"""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import orjson
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.core.snapshot import digest
from tallshelf.service import clock
from tallshelf.service.people.models import IdempotencyRecord
from tallshelf.service.web.actor import actor_of

_LONGEST_KEY = 200
_KEPT_FOR = timedelta(days=1)


class Once(APIView):
    """A view whose POST takes an ``Idempotency-Key``."""

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        super().initial(request, *args, **kwargs)
        self._key = _key(request)
        if self._key:
            self._fingerprint = digest([request.path, request.data])
            kept = IdempotencyRecord.objects.filter(
                **_whose(request), key=self._key, at__gt=clock.now() - _KEPT_FOR
            ).first()
            if kept is not None:
                raise _Replay(self._replay(kept))

    def handle_exception(self, exc: Exception) -> Response:
        return exc.answer if isinstance(exc, _Replay) else super().handle_exception(exc)

    def finalize_response(self, request: Request, response: Any, *args: Any, **kwargs: Any) -> Any:
        response = super().finalize_response(request, response, *args, **kwargs)
        if (
            getattr(self, "_key", "")
            and response.status_code < 400
            and "Idempotency-Replayed" not in response
        ):
            IdempotencyRecord.objects.update_or_create(
                **_whose(request),
                key=self._key,
                defaults={
                    "fingerprint": self._fingerprint,
                    "status": response.status_code,
                    "body": orjson.dumps(response.data, default=str).decode(),
                    "at": clock.now(),
                },
            )
        return response

    def _replay(self, kept: IdempotencyRecord) -> Response:
        if kept.fingerprint != self._fingerprint:
            raise Conflict(
                "this Idempotency-Key was used for another request", remedy="Use a new key for each request."
            )
        return Response(orjson.loads(kept.body), status=kept.status, headers={"Idempotency-Replayed": "true"})


def forget_past() -> None:
    """Forget the answers that are kept no longer."""
    IdempotencyRecord.objects.filter(at__lte=clock.now() - _KEPT_FOR).delete()


class _Replay(Exception):
    """Carries the kept answer past the view."""

    def __init__(self, answer: Response) -> None:
        super().__init__()
        self.answer = answer


def _whose(request: Request) -> dict[str, Any]:
    """Return whose answer it is: that of one token or session, since another may have fewer scopes."""
    actor = actor_of(request)
    return {"person_id": actor.id, "source": actor.via.partition(" ")[0][:60]}


def _key(request: Request) -> str:
    key = request.headers.get("Idempotency-Key", "") if request.method == "POST" else ""
    if len(key) > _LONGEST_KEY:
        raise BadArgument(f"an Idempotency-Key has at most {_LONGEST_KEY} characters")
    return key
