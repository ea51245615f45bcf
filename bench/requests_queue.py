"""The queue, the inbox and one request's page with 200 open requests, against the same with 20.

The yardstick is our own answer with 20 open requests, in the same process through the same test client.
What a reviewer asks for is `GET /api/v1/requests?state=live` (a page), `?mine=true`, and the inbox.
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path
from typing import Any

_FEW, _MANY, _ROUNDS = 20, 200, 15
_ADDRESSES = ("requests?state=live&limit=20", "requests?state=live&limit=200", "requests?mine=true", "inbox")


def main() -> None:
    with tempfile.TemporaryDirectory() as scratch:
        os.environ |= {"TALLSHELF_DATA": scratch, "TALLSHELF_LOG_LEVEL": "error"}
        from tallshelf.run.service_setup import migrate, prepare

        prepare(Path(scratch))
        migrate()
        _measure()


def _measure() -> None:
    from django.test.utils import override_settings

    from tallshelf.run.scenario import history
    from tallshelf.service.people import actions as people

    history.add_people()
    _, token = people.make_token(history.actor("ines"), "bench", ["read"], 1)
    headers = {"Authorization": f"Bearer {token}"}
    found = {}
    with override_settings(ALLOWED_HOSTS=["testserver"]):
        for upto in (_FEW, _MANY):
            _open_up_to(upto)
            found[upto] = _answers(headers)
    print(f"{'':34}{_FEW:>6} open   {_MANY:>6} open     ratio   queries")
    for address in _ADDRESSES:
        (few, few_queries), (many, many_queries) = found[_FEW][address], found[_MANY][address]
        print(
            f"GET {address:30}{few * 1e3:8.1f} ms {many * 1e3:10.1f} ms {many / few:9.2f}"
            f"   {few_queries} and {many_queries}"
        )
    print("a page of the queue: at most 1.5 is meant; no query count may grow")


def _answers(headers: dict[str, str]) -> dict[str, tuple[float, int]]:
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    client = Client(headers=headers)
    found: dict[str, tuple[float, int]] = {}
    for address in _ADDRESSES:
        taken = []
        for _ in range(_ROUNDS):
            started = time.perf_counter()
            assert client.get(f"/api/v1/{address}").status_code == 200
            taken.append(time.perf_counter() - started)
        with CaptureQueriesContext(connection) as queries:
            client.get(f"/api/v1/{address}")
        found[address] = (statistics.median(taken), len(queries))
    return found


def _open_up_to(number: int) -> None:
    """Have so many requests open, each on a server of its own."""
    from tallshelf.run.scenario.declarations import declared, names
    from tallshelf.run.scenario.history import actor
    from tallshelf.service.catalog import actions as catalog
    from tallshelf.service.review import actions as review
    from tallshelf.service.review.models import Request

    tomas, sources = actor("tomas"), list(names())
    for index in range(Request.objects.count(), number):
        slug = f"bench-{index:03}"
        about: dict[str, Any] = {"title": slug.title(), "team": "berths", "contact": "b@pellam.example"}
        catalog.enrol_server(tomas, slug, **about)
        snapshot = declared(sources[index % len(sources)], "1.0.0")
        review.submit(tomas, slug, review.read_submission(tomas, snapshot, "1.0.0", []))


if __name__ == "__main__":
    main()
