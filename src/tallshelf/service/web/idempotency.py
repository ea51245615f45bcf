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

from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.core.snapshot import digest
from tallshelf.service import clock
from tallshelf.service.people.models import IdempotencyRecord
from tallshelf.service.web.actor import actor_of

_LONGEST_KEY = 200
_KEPT_FOR = timedelta(days=1)


class Kept:
    """The answer to one key of one token or session: there already, or to be kept."""

    def __init__(self, request: Request, key: str) -> None:
        self._key = {**_whose(request), "key": key}
        self._fingerprint = digest([request.path, request.data])

    def answer(self) -> Response | None:
        """Return what the same request was answered before; raise `Conflict` where the key was for another."""
        kept = IdempotencyRecord.objects.filter(**self._key, at__gt=clock.now() - _KEPT_FOR).first()
        if kept is None:
            return None
        if kept.fingerprint != self._fingerprint:
            raise Conflict(
                "this Idempotency-Key was used for another request", remedy="Use a new key for each request."
            )
        body = orjson.loads(kept.body)
        return Response(body, status=kept.status, headers={"Idempotency-Replayed": "true"})

    def keep(self, response: Response) -> None:
        """Keep an answer for a day."""
        IdempotencyRecord.objects.update_or_create(
            **self._key,
            defaults={
                "fingerprint": self._fingerprint,
                "status": response.status_code,
                "body": orjson.dumps(response.data, default=str).decode(),
                "at": clock.now(),
            },
        )


def forget_past() -> None:
    """Forget the answers that are kept no longer."""
    IdempotencyRecord.objects.filter(at__lte=clock.now() - _KEPT_FOR).delete()


def _whose(request: Request) -> dict[str, Any]:
    """Return whose answer it is: that of one token or session, since another may have fewer scopes."""
    actor = actor_of(request)
    return {"person_id": actor.id, "source": actor.via.partition(" ")[0][:60]}


def key_of(request: Request) -> str:
    """Return the ``Idempotency-Key`` of a request, empty where it has none; raise `BadArgument` for a long one."""
    key = request.headers.get("Idempotency-Key", "")
    if len(key) > _LONGEST_KEY:
        raise BadArgument(f"an Idempotency-Key has at most {_LONGEST_KEY} characters")
    return key
