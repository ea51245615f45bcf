"""What every read endpoint costs in a catalog a hundred times as large, and whether a worker's memory holds.

The catalog is generated: servers of 20 tools (written as by bench/overlap.py), three releases each, open requests,
ledger entries. The yardstick is the same endpoint at a hundredth of the size, in the same run; for the list of servers
also a plain ``ListAPIView`` with the same sign-in over the same rows.

10,000 servers take about an hour to generate. ``--keep DIR`` leaves the large catalog there, to be looked at:
``tallshelf serve --data DIR``.
"""

from __future__ import annotations

import argparse
import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

_TOOLS, _RELEASES, _ROUNDS = 20, 3, 25
_COMPARED = 1_000
"""How many servers' overlaps are looked for at most: each asks the index of all, and these make rows enough."""
_PATHS = (
    "shelf",
    "shelf?team=team-3",
    "servers?limit=50&sort=-tokens",
    "servers?limit=50",
    "servers?limit=50&sort=-changed_at",
    "servers?limit=50&team=team-3",
    "servers/server-7",
    "servers/server-7/timeline",
    "servers/server-7/life?item=tool:{tool}",
    "servers/server-7/releases/current",
    "servers/server-7/releases/current/items",
    "servers/server-7/releases/current/findings",
    "servers/server-7/releases/current/overlaps",
    "servers/server-7/releases/current/connection",
    "servers/server-7/known-findings",
    "comparison?old=server-7@1.0.0&new=server-7@1.2.0",
    "find?q=which+tool+sends+an+urgent+report",
    "findings",
    "findings/places?limit=50",
    "findings/places?limit=50&level=error",
    "findings/places?limit=50&team=team-3",
    "overlaps?limit=50",
    "overlaps?limit=50&state=open",
    "overlaps?limit=50&team=team-3",
    "overlap-map",
    "overlap-map?team=team-3",
    "requests?limit=50",
    "requests?limit=50&state=live",
    "requests?mine=true",
    "requests/1",
    "rulings?limit=50",
    "waivers?limit=50",
    "suspensions",
    "inbox",
    "follow-ups",
    "ledger?limit=50",
    "people",
    "teams",
    "desks",
    "routing",
    "style",
    "rules",
)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--servers", type=int, default=1_000)
    parser.add_argument("--keep", type=Path)
    parser.add_argument("--fill", type=int, help=argparse.SUPPRESS)
    parser.add_argument("--measure", type=int, help=argparse.SUPPRESS)
    parser.add_argument("--data", type=Path, help=argparse.SUPPRESS)
    args = parser.parse_args()
    if args.fill or args.measure:
        os.environ |= {"TALLSHELF_DATA": str(args.data), "TALLSHELF_LOG_LEVEL": "error"}
        from tallshelf.run.service_setup import migrate, prepare

        prepare(args.data)
        migrate()
        _fill(args.fill) if args.fill else _measure()
        return
    if args.servers < 100:
        parser.error("a catalog of at least 100 servers is to be compared with one of 60")
    found = {}
    for size in (max(args.servers // 100, 60), args.servers):
        with tempfile.TemporaryDirectory() as scratch:
            data = args.keep if args.keep and size == args.servers else Path(scratch)
            # Filled by one process and read by another, whose memory is what a worker's would be.
            for part in ("--fill", "--measure"):
                words = [sys.executable, __file__, part, str(size), "--data", str(data)]
                done = subprocess.run(words, check=True, stdout=subprocess.PIPE, text=True)
            rows = [line.rsplit(" ", 2) for line in done.stdout.splitlines()]
            found[size] = {name: (float(median), float(worst)) for name, median, worst in rows}
    small, large = found.values()
    print(f"{'':58}{min(found):>8,}{max(found):>9,} servers   ratio   p99 / median")
    for name, (median, worst) in large.items():
        before = small[name][0]
        unit = "MB" if name.startswith("memory") else "ms"
        tail = f"{worst / median:6.1f}" if unit == "ms" else ""
        print(f"{name:58}{before:8.1f}{median:9.1f} {unit}      {median / before:5.2f}   {tail}")
    print("a ratio of at most 1.5 is meant, a p99 under 2 of the median, and at most 400 MB for a worker")


def _measure() -> None:
    from tallshelf.service.catalog.models import SearchEntry

    tool = SearchEntry.objects.filter(server__slug="server-7", kind="tool").values_list("name", flat=True)[0]
    from server_list import with_plain_list

    headers = _token()
    from django.test import Client
    from django.test.utils import override_settings

    with override_settings(ALLOWED_HOSTS=["testserver"], ROOT_URLCONF=with_plain_list()):
        client = Client(headers=headers)
        for path in ("/plain?limit=50", *(f"/api/v1/{one}" for one in _PATHS)):
            path = path.format(tool=tool)
            taken = []
            for _ in range(_ROUNDS):
                started = time.perf_counter()
                answer = client.get(path)
                taken.append((time.perf_counter() - started) * 1000)
                assert answer.status_code == 200, (path, answer.content[:300])
            taken = sorted(taken[1:])  # the first fills what a process keeps
            print(path.replace(tool, "…"), statistics.median(taken), taken[int(len(taken) * 0.99)])
    print("submission of a 50-tool release", *_submission())
    own = next(line for line in Path("/proc/self/status").read_text().splitlines() if "RssAnon" in line)
    print("memory of the worker, of its own", int(own.split()[1]) / 1024, 0)


def _submission() -> tuple[float, float]:
    """Return the median and the worst time of submitting a release of 50 tools, in ms."""
    import random

    from overlap import items, tool, trades

    from tallshelf.run.scenario.player import actor
    from tallshelf.service.catalog import actions as catalog
    from tallshelf.service.review import actions as review

    chance = random.Random(5)
    trade = trades(random.Random(7))[3]
    taken = []
    launch = [{"environment": "production", "transport": "stdio", "command": "x"}]
    for number in range(7):
        slug = f"new-{number}"
        catalog.enrol_server(actor("tomas"), slug, title=slug, team="berths", contact="c")
        bodies = {body["name"]: body for body in (tool(chance, trade) for _ in range(90))}
        assert items(list(bodies.values()))
        document = {"format": "tallshelf.snapshot/1", "server": {}, "tools": list(bodies.values())[:50]}
        one = review.read_submission(actor("tomas"), document, "1.0.0", launch)
        started = time.perf_counter()
        review.submit(actor("tomas"), slug, one)
        taken.append((time.perf_counter() - started) * 1000)
    return statistics.median(taken), max(taken)


def _token() -> dict[str, str]:
    from tallshelf.run.scenario.player import actor
    from tallshelf.service.people import actions

    _, secret = actions.make_token(actor("pell"), "bench", ("read", "curate", "administer"), 1)
    return {"Authorization": f"Bearer {secret}"}


def _fill(servers: int) -> None:
    """Generate the catalog."""
    from django.db import transaction
    from entitled import _a_release, _fill_up_to
    from overlap import catalog as written

    from tallshelf.core.snapshot import snapshot_from
    from tallshelf.run.scenario import history
    from tallshelf.run.scenario.player import actor
    from tallshelf.service import clock
    from tallshelf.service.catalog import actions as catalog
    from tallshelf.service.catalog import findings, overlap, search, steps, storage
    from tallshelf.service.catalog.models import Release, Server, StoredProfiles
    from tallshelf.service.people import actions as people
    from tallshelf.service.people.models import Person, Team
    from tallshelf.service.review import actions as review

    history.add_people()
    for number in range(max(3, min(46, servers // 20)) + 1):
        people.add_team(people.SETUP, f"team-{number}", f"Team {number}")
    teams = list(Team.objects.filter(slug__startswith="team-").order_by("pk"))
    launch = [{"environment": "production", "transport": "stdio", "command": "x"}]
    person, now = Person.objects.get(username="tomas"), clock.now()
    for at, bodies in enumerate(written(servers * 40)):
        with transaction.atomic():
            server = Server.objects.create(
                slug=f"server-{at}",
                title=f"Server {at}",
                team=teams[at % len(teams)],
                contact="c@pellam.example",
                data_class="internal",
                enrolled_at=now,
                changed_at=f"2026-01-01T00:00:{at % 60:02}.000Z",
            )
            unique = list({body["name"]: body for body in bodies}.values())[:_TOOLS]
            for release in range(_RELEASES):
                tools = [{**one, "description": one["description"] + " Also." * release} for one in unique]
                document = {"format": "tallshelf.snapshot/1", "server": {}, "tools": tools}
                snapshot = snapshot_from(document)
                made = Release.objects.create(
                    server=server,
                    version=f"1.{release}.0",
                    snapshot=storage.store(snapshot),
                    captured={},
                    launch=launch,
                    digest=f"sha256:{at:032x}{release:032x}",
                    state="published",
                    origin="submitted",
                    item_count=len(tools),
                    tool_count=len(tools),
                    tokens=len(tools) * 90,
                    submitted_by=person,
                    submitted_at=now,
                    published_at=now,
                )
            server.current = made
            server.save(update_fields=["current"])
            overlap.keep_profiles(server)
    search.rebuild()
    for server in Server.objects.order_by("pk")[:_COMPARED]:
        overlap.compare_server(server)
    StoredProfiles.objects.update(compared=True)
    alone = type("Alone", (), {"progress": lambda *_: None, "key": ""})()
    findings.ask_if_moved()
    findings.judge_all(alone)
    steps.judge(alone)
    for number in range(max(servers // 20, 50)):
        slug = f"asked-{number}"
        catalog.enrol_server(actor("tomas"), slug, title=slug, team="berths", contact="c")
        document = {"format": "tallshelf.snapshot/1", "server": {}, "tools": unique[:3]}
        review.submit(actor("tomas"), slug, review.read_submission(actor("tomas"), document, "1.0.0", launch))
    _fill_up_to(servers * 10, _a_release("first-of-all"))


if __name__ == "__main__":
    main()
