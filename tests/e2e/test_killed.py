"""The service killed at random moments: nothing half-done, nothing acknowledged is lost, the ledger holds.

A few kills in CI; `make soak` (TALLSHELF_SOAK=1) plays 300 acts under many.
"""

from __future__ import annotations

import os
import random
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest

from tallshelf.core.errors import ShelfError, TookTooLong, Unreachable
from tests.e2e.own_service import OwnService, own_service

SOAK = bool(os.environ.get("TALLSHELF_SOAK"))
FLOWS, WRITERS = (100, 4) if SOAK else (15, 3)
_READS = {"readOnlyHint": True, "openWorldHint": False}


@pytest.fixture
def service(tmp_path) -> Iterator[OwnService]:
    found = own_service(tmp_path / "data")
    yield found
    found.kill()


def test_killed_at_any_moment_nothing_is_half_done(service):
    over, kills = threading.Event(), []
    killer = threading.Thread(target=_kill_now_and_then, args=(service, over, kills))
    killer.start()
    try:
        with ThreadPoolExecutor(WRITERS) as pool:
            acknowledged = list(pool.map(lambda number: _flow(service, number), range(FLOWS)))
    finally:
        over.set()
        killer.join()
    assert len(kills) > 2
    service.kill()
    service.start()
    with service.shelf("ines") as ines:
        for number, request in acknowledged:
            found = ines.request(request)
            assert found["state"] == "done", found["state"]
            assert ines.release(f"berths-{number}", "1.0.0")["state"] == "published"
            assert sum(not one["voided"] for one in found["sign_offs"]) == 1
        published = [entry["body"]["request"] for entry in ines.ledger(event="release-published")]
        signed = [entry["body"]["request"] for entry in ines.ledger(event="signed-off")]
    assert sorted(published) == sorted(request for _, request in acknowledged)
    assert sorted(signed) == sorted(published)
    assert "all that decides is as it says" in service.run("admin", "verify-ledger")


LAUNCH = [{"environment": "test", "transport": "stdio", "command": "berths"}]


def _flow(service: OwnService, number: int) -> tuple[int, int]:
    """Submit, agree and publish one release, each act repeated until it is answered."""
    slug = f"berths-{number}"
    with service.shelf("tomas") as tomas, service.shelf("ines") as ines:
        about = {"title": f"Berths {number}", "team": "berths", "contact": "b@pellam.example"}
        _until_answered(lambda: tomas.enrol(slug, **about))
        request = _until_answered(
            lambda: tomas.submit(slug, _snapshot(number), version="1.0.0", launch=LAUNCH)
        )
        seen = {
            "release_digest": request["release_digest"],
            "assessment_digest": request["assessment"]["digest"],
        }
        _until_answered(lambda: ines.sign_off(request["id"], "agree", **seen))
        _until_answered(lambda: tomas.publish(request["id"]))
    return number, request["id"]


def _until_answered(act: Callable[[], Any]) -> Any:
    until = time.monotonic() + 120
    while True:
        try:
            return act()
        except (Unreachable, TookTooLong) as fault:
            last: ShelfError = fault
        if time.monotonic() > until:
            raise last
        time.sleep(0.1)


def _kill_now_and_then(service: OwnService, over: threading.Event, kills: list[float]) -> None:
    chance = random.Random(7)
    while not over.wait(chance.uniform(0.3, 1.2)):
        service.kill()
        kills.append(time.monotonic())
        service.start()


# Jobs that nobody takes for one another: what waits for a ruling is published by nobody.
THINGS = [
    "barges",
    "ferries",
    "tugs",
    "yachts",
    "kayaks",
    "canoes",
    "rafts",
    "dinghies",
    "trawlers",
    "tankers",
    "cranes",
    "lamps",
    "ladders",
    "ropes",
    "buoys",
    "anchors",
    "gates",
    "sheds",
    "pumps",
    "crates",
    "lorries",
    "tickets",
    "parcels",
    "meals",
]


def _thing(number: int) -> str:
    more, first = divmod(number, len(THINGS))
    return f"{THINGS[first]}_and_{THINGS[(first + more) % len(THINGS)]}" if more else THINGS[first]


def _snapshot(number: int) -> dict[str, Any]:
    return {
        "tools": [
            {
                "name": f"list_{_thing(number)}",
                "description": f"Lists the {_thing(number)} of quay {number} on a day, each with its number.",
                "inputSchema": {
                    "type": "object",
                    "properties": {
                        "day": {"type": "string", "format": "date", "description": "The day, YYYY-MM-DD"}
                    },
                    "additionalProperties": False,
                },
                "annotations": _READS,
            }
        ]
    }
