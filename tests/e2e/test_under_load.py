"""Readers and writers at once against the running service: no error, nothing lost, the ledger holds."""

from __future__ import annotations

import copy
import os
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest

from tallshelf.run.scenario.declarations import declared

pytestmark = pytest.mark.xdist_group("demo")
# A few in CI; `make soak` has eight writers and 64 readers for two minutes.
SOAK = bool(os.environ.get("TALLSHELF_SOAK"))
_WRITERS, _READERS, _SECONDS, _LEAST = (8, 64, 120, 5) if SOAK else (4, 8, 0, 5)


def test_readers_and_writers_at_once(demo):
    done, until = threading.Event(), time.monotonic() + _SECONDS
    launch = [{"environment": "test", "transport": "stdio", "command": "fuel"}]
    for username in ("tomas", "runa"):
        demo.token(username)
    with demo.shelf("ines") as ines:
        for number in range(_WRITERS):
            slug = f"fuel-ledger-{number}"
            ines.enrol(slug, title=f"Fuel ledger {number}", team="fleet-upkeep", contact="c@pellam.example")

    def write(number: int) -> list[int]:
        with demo.shelf("ines") as shelf:
            made: list[int] = []
            while len(made) < _LEAST or time.monotonic() < until:
                minor = len(made)
                snapshot = copy.deepcopy(declared("berth-planner", "1.4.2"))
                snapshot["tools"][0]["description"] = f"Fuel of vessel {number}, as of release {minor}."
                request = shelf.submit(
                    f"fuel-ledger-{number}", snapshot, version=f"1.{minor}.0", launch=launch
                )
                made.append(request["id"])
            return made

    def read(number: int) -> int:
        count = 0
        with demo.shelf("runa" if number % 2 else "tomas") as shelf:
            while not done.is_set():
                assert len(list(shelf.servers())) >= 6
                shelf.items("berth-planner", "1.4.2")
                count += 1
        return count

    with ThreadPoolExecutor(_WRITERS + _READERS) as pool:
        readers = [pool.submit(read, number) for number in range(_READERS)]
        writers = [pool.submit(write, number) for number in range(_WRITERS)]
        try:
            made = [request for writer in writers for request in writer.result(timeout=900)]
            time.sleep(0.5)
        finally:
            done.set()
        assert all(reader.result(timeout=120) > 0 for reader in readers)

    assert len(set(made)) == len(made) >= _WRITERS * _LEAST
    with demo.shelf("ines") as ines:
        waiting = {row["id"] for row in ines.requests("live")}
        assert set(made) <= waiting
        entries = list(ines.ledger(event="release-submitted"))
        assert set(made) <= {entry["body"]["request"] for entry in entries}
        for request in made:
            ines.take_back(request)
    assert "holds" in demo.run("admin", "verify-ledger").stdout
