"""A page of 50 of 1,000 servers, against a plain DRF list over the same rows.

The yardstick is a `ListAPIView` with a `ModelSerializer` and DRF's own limit pagination over the
same table, with DRF's JSON renderer, called in the same process through the same test client.
Its rows hold less than ours (no team title, no current release, no states).
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path
from typing import Any

_SERVERS, _ROUNDS = 1000, 60


def main() -> None:
    with tempfile.TemporaryDirectory() as scratch:
        os.environ["TALLSHELF_DATA"] = scratch
        from tallshelf.run.service_setup import migrate, prepare

        prepare(Path(scratch))
        migrate()
        _measure()


def _measure() -> None:
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext, override_settings

    headers = _fill()

    with override_settings(ROOT_URLCONF=with_plain_list(), ALLOWED_HOSTS=["testserver"]):
        client = Client(headers=headers)
        times: dict[str, list[float]] = {"/plain": [], "/api/v1/servers?limit=50": []}
        for _ in range(_ROUNDS):
            for address, taken in times.items():
                started = time.perf_counter()
                answer = client.get(address)
                taken.append(time.perf_counter() - started)
                assert len(answer.json()["results"]) == 50
        counts = []
        for limit in (5, 50, 200):
            with CaptureQueriesContext(connection) as queries:
                client.get(f"/api/v1/servers?limit={limit}")
            counts.append(len(queries))
    plain, ours = (statistics.median(taken) for taken in times.values())
    print(f"a plain ListAPIView  {plain * 1000:6.2f} ms for 50 rows")
    print(f"GET /api/v1/servers  {ours * 1000:6.2f} ms for 50 rows")
    print(f"ratio                {ours / plain:6.2f}   (below 1 is meant)")
    print(f"queries for 5, 50 and 200 rows: {counts[0]}, {counts[1]}, {counts[2]}   (the same is meant)")


def with_plain_list() -> Any:
    """Return the addresses of the service, and ``/plain``: the yardstick over the same rows, with the same sign-in."""
    from django.urls import include, path
    from rest_framework import generics, serializers
    from rest_framework.pagination import LimitOffsetPagination
    from rest_framework.renderers import JSONRenderer

    from tallshelf.service.catalog.models import Server

    class Row(serializers.ModelSerializer[Server]):
        class Meta:
            model = Server
            fields = "__all__"

    class Pages(LimitOffsetPagination):
        default_limit = 50

    class Plain(generics.ListAPIView[Server]):
        queryset = Server.objects.order_by("slug")
        serializer_class = Row
        pagination_class = Pages
        renderer_classes = [JSONRenderer]

    urls: Any = type("urls", (), {})()
    urls.urlpatterns = [path("plain", Plain.as_view()), path("", include("tallshelf.service.urls"))]
    return urls


def _fill() -> dict[str, str]:
    from django.utils import timezone

    from tallshelf.service.catalog.models import Server
    from tallshelf.service.people import actions as people

    people.add_team(people.SETUP, "berths", "Berths")
    people.add_person(people.SETUP, "reader", "Reader", "reader", None)
    _, secret = people.make_token(people.SETUP, "bench", ["read"], 1, username="reader")
    team = people.add_team(people.SETUP, "berths", "Berths")
    Server.objects.bulk_create(
        Server(
            slug=f"server-{number:04}",
            title=f"Server {number}",
            team=team,
            contact="berths@pellam.example",
            data_class="internal",
            tags=["planning", "harbour"],
            enrolled_at=timezone.now(),
        )
        for number in range(_SERVERS)
    )
    return {"Authorization": f"Bearer {secret}"}


if __name__ == "__main__":
    main()
