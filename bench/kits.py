"""What it costs to know who is hit: 2,000 kits of 30 tools over 1,000 servers.

Listing who is hit by a release is held against the one join over the same rows; publishing a release that hits 500 kits
against publishing one that hits none; and the list of servers while 200 programs ask for events every ten seconds
against the same list alone.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

_SERVERS, _KITS, _HELD, _OF_HUB, _ROUNDS = 1_000, 2_000, 30, 500, 9
_LAUNCH = [{"environment": "production", "transport": "stdio", "command": "x"}]
_JOIN = """
SELECT kit.name, kit.title, team.slug, kit.environment, held.item, release.version
FROM kits_helditem AS held JOIN kits_storedkit AS kit ON kit.id = held.kit_id
JOIN people_team AS team ON team.id = kit.team_id JOIN catalog_release AS release ON release.id = held.release_id
WHERE held.server_id = %s ORDER BY kit.name, held.item"""


def main() -> None:
    with tempfile.TemporaryDirectory() as scratch:
        os.environ |= {"TALLSHELF_DATA": scratch, "TALLSHELF_LOG_LEVEL": "error"}
        from tallshelf.run.service_setup import migrate, prepare

        prepare(Path(scratch))
        migrate()
        _fill()
        _listing()
        _publishing()
        token = _token()
        _polling(Path(scratch), token)


def _tools(words: str = "") -> list[dict[str, Any]]:
    return [
        {
            "name": f"tool_{number}",
            "description": f"Return what is known of berth number {number}.{words}",
            "inputSchema": {"type": "object", "properties": {"day": {"type": "string"}}},
            "annotations": {"readOnlyHint": True, "openWorldHint": False},
        }
        for number in range(10)
    ]


def _publish(slug: str, version: str, words: str = "") -> float:
    """Publish a release by the acts that people call; return how long the last of them took, in ms."""
    from tallshelf.run.scenario.player import actor, agree
    from tallshelf.service.review import actions as review

    document = {"format": "tallshelf.snapshot/1", "server": {}, "tools": _tools(words)}
    one = review.read_submission(actor("tomas"), document, version, _LAUNCH)
    request = review.submit(actor("tomas"), slug, one)[0]
    agree(request)
    started = time.perf_counter()
    review.publish(actor("tomas"), request.pk)
    return (time.perf_counter() - started) * 1000


def _fill() -> None:
    from django.db import transaction

    from tallshelf.core.snapshot import snapshot_from
    from tallshelf.run.scenario import history
    from tallshelf.run.scenario.player import actor
    from tallshelf.service import clock
    from tallshelf.service.catalog import actions as catalog
    from tallshelf.service.catalog import storage
    from tallshelf.service.catalog.models import Release, Server
    from tallshelf.service.kits.models import HeldItem, StoredKit
    from tallshelf.service.people.models import Person, Team

    history.add_people()
    for slug in ("hub", "lone"):
        catalog.enrol_server(actor("tomas"), slug, title=slug, team="berths", contact="c")
        _publish(slug, "1.0.0")
    person, team, now = Person.objects.get(username="tomas"), Team.objects.get(slug="berths"), clock.now()
    stored = storage.store(snapshot_from({"format": "tallshelf.snapshot/1", "server": {}, "tools": _tools()}))
    with transaction.atomic():
        releases = []
        for number in range(_SERVERS):
            server = Server.objects.create(
                slug=f"server-{number}",
                title="t",
                team=team,
                contact="c",
                data_class="internal",
                enrolled_at=now,
            )
            releases.append(
                Release(
                    server=server, version="1.0.0", snapshot=stored, captured={}, launch=_LAUNCH,
                    digest=f"sha256:{number:064x}", state="published", origin="submitted", item_count=10,
                    tool_count=10, tokens=900, submitted_by=person, submitted_at=now, published_at=now,
                )
            )  # fmt: skip
        releases = Release.objects.bulk_create(releases)
        hub = Release.objects.get(server__slug="hub")
        for number in range(_KITS):
            kit = StoredKit.objects.create(
                name=f"kit-{number}", title="A kit", team=team, text="", document={}, digest="sha256:0",
                environment="production", data_class="internal", moves="never", put_by=person, put_at=now,
            )  # fmt: skip
            rows = [
                HeldItem(
                    kit=kit,
                    server_id=one.server_id,
                    release=one,
                    item=f"tool:tool_{at % 10}",
                    item_digest="sha256:0",
                )
                for at in range(_HELD - 3)
                for one in [releases[(number * 7 + at // 10) % _SERVERS]]
            ]
            one = hub if number < _OF_HUB else releases[(number * 7 + 100) % _SERVERS]
            rows += [
                HeldItem(
                    kit=kit,
                    server_id=one.server_id,
                    release=one,
                    item=f"tool:tool_{at}",
                    item_digest="sha256:0",
                )
                for at in range(3)
            ]
            HeldItem.objects.bulk_create(rows)


def _median(run: Callable[[], Any]) -> float:
    taken = []
    for _ in range(_ROUNDS):
        started = time.perf_counter()
        run()
        taken.append((time.perf_counter() - started) * 1000)
    return statistics.median(taken)


def _listing() -> None:
    from django.db import connection

    from tallshelf.core.changes import compare_snapshots
    from tallshelf.core.reports import hits_document
    from tallshelf.core.snapshot import snapshot_from
    from tallshelf.service.catalog.models import Server
    from tallshelf.service.kits import queries

    hub = Server.objects.get(slug="hub")
    sides = (
        snapshot_from({"format": "tallshelf.snapshot/1", "server": {}, "tools": _tools(one)})
        for one in ("", " Or so.")
    )
    changes = compare_snapshots(*sides).changes

    def joined() -> None:
        with connection.cursor() as cursor:
            cursor.execute(_JOIN, [hub.pk])
            assert len(cursor.fetchall()) == 3 * _OF_HUB

    assert len(queries.hits_of(hub, changes)) == _OF_HUB
    plain, ours = _median(joined), _median(lambda: hits_document(queries.hits_of(hub, changes)))
    _say(f"who is hit by a release ({_OF_HUB} kits)", ours, "the join alone", plain, 3)


def _publishing() -> None:
    hub, lone = [], []
    for number in range(1, _ROUNDS + 1):
        for slug, taken in (("hub", hub), ("lone", lone)):
            taken.append(_publish(slug, f"1.{number}.0", f" Or so, {number}."))
    ours, plain = statistics.median(hub), statistics.median(lone)
    _say(f"publishing what hits {_OF_HUB} kits", ours, "what hits none", plain, 1.3)


def _token() -> str:
    from tallshelf.run.scenario.player import actor
    from tallshelf.service.people import actions

    return actions.make_token(actor("pell"), "bench", ("read",), 1)[1]


def _polling(data: Path, token: str) -> None:
    import httpx

    from tallshelf.run.ports import free_ports, wait_for

    (port,) = free_ports(1)
    words = [sys.executable, "-m", "tallshelf", "serve", "--port", str(port)]
    service = subprocess.Popen(
        words,
        env={**os.environ, "TALLSHELF_DATA": str(data)},
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        wait_for(port)
        headers = {"Authorization": f"Bearer {token}"}
        with httpx.Client(base_url=f"http://127.0.0.1:{port}/api/v1/", headers=headers, timeout=30) as http:

            def listed() -> float:
                taken = []
                for _ in range(60):
                    started = time.perf_counter()
                    http.get("servers").raise_for_status()
                    taken.append((time.perf_counter() - started) * 1000)
                    time.sleep(0.05)
                return statistics.median(taken)

            listed()
            plain = listed()
            stop = threading.Event()
            pollers = [
                threading.Thread(target=_poll, args=(port, headers, number, stop)) for number in range(200)
            ]
            for one in pollers:
                one.start()
            time.sleep(10)
            ours = listed()
            stop.set()
            for one in pollers:
                one.join()
        _say("a list beside 200 pollers", ours, "the list alone", plain, 1.2)
    finally:
        service.terminate()
        service.wait(20)


def _poll(port: int, headers: dict[str, str], number: int, stop: threading.Event) -> None:
    """Ask for events every ten seconds, as a program does that has seen all there is."""
    import httpx

    tag, after = "", 0
    stop.wait(number / 20)
    with httpx.Client(base_url=f"http://127.0.0.1:{port}/api/v1/", headers=headers, timeout=30) as http:
        while not stop.wait(10 if tag else 0):
            answer = http.get(f"events?after={after}", headers={"If-None-Match": tag})
            if answer.status_code == 200:
                after, tag = answer.json()["next"], answer.headers.get("ETag", "")


def _say(what: str, ours: float, yardstick: str, plain: float, meant: float) -> None:
    print(
        f"{what:42}{ours:8.1f} ms   {yardstick} {plain:7.1f} ms   ratio {ours / plain:5.2f}   ({meant} is meant)"
    )


if __name__ == "__main__":
    main()
