"""Publishing with 100,000 ledger entries against 1,000, and a full replay against hashing the same entries.

The yardsticks are our own publication on the short ledger, in the same process, and `verify_chain`, which computes
every hash. Entries are those of real first releases (enrolled, submitted, signed twice, published), written for as
many made-up servers; each of them is an act that the judge lets through.
"""

from __future__ import annotations

import json
import os
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

_SHORT, _LONG, _PUBLICATIONS = 1_000, 100_000, 12
_SIZES = (1_000, 10_000, 100_000)


def main() -> None:
    with tempfile.TemporaryDirectory() as scratch:
        os.environ |= {"TALLSHELF_DATA": scratch, "TALLSHELF_LOG_LEVEL": "error"}
        from tallshelf.run.service_setup import migrate, prepare

        prepare(Path(scratch))
        migrate()
        _measure()


def _measure() -> None:
    from tallshelf.run.scenario import history
    from tallshelf.service.ledger.queries import all_entries

    history.add_people()
    template = _a_release("first-of-all")
    times = {}
    for size in (_SHORT, _LONG):
        _fill_up_to(size, template)
        times[size] = _publish(size)
    ratio = times[_LONG] / times[_SHORT]
    print(f"publishing with {_SHORT:>7,} entries {times[_SHORT] * 1e3:8.1f} ms")
    print(
        f"publishing with {_LONG:>7,} entries {times[_LONG] * 1e3:8.1f} ms   {ratio:.2f} (at most 1.3 is meant)"
    )
    whole = list(all_entries())
    for size in _SIZES:
        _replay(whole[:size])


def _replay(rows: list[dict[str, Any]]) -> None:
    from tallshelf.core.entitlement import audit, replay
    from tallshelf.core.ledger import verify_chain

    hashed = _best(lambda: verify_chain(rows))
    replayed = _best(lambda: replay(rows))
    judged = _best(lambda: audit(rows))
    assert not audit(rows).refused, audit(rows).refused[:3]
    print(
        f"{len(rows):>7,} entries: hashing {hashed * 1e3:8.1f} ms   replay {replayed / hashed:.2f} of it "
        f"(at most 4 is meant), judging each {judged / hashed:.2f}; {judged / len(rows) * 1e6:.1f} us an entry"
    )


def _best(act: Callable[[], object], rounds: int = 3) -> float:
    return min(_timed(act) for _ in range(rounds))


def _timed(act: Callable[[], object]) -> float:
    begun = time.perf_counter()
    act()
    return time.perf_counter() - begun


def _publish(size: int) -> float:
    """Return the median time of a publication, each of a server of its own."""
    from tallshelf.run.scenario.player import actor
    from tallshelf.service.review import actions as review

    took = []
    for number in range(_PUBLICATIONS):
        request = _agreed(f"timed-{size}-{number}")
        took.append(_timed(lambda pk=request.pk: review.publish(actor("tomas"), pk)))
    return statistics.median(took)


def _agreed(slug: str) -> Any:
    from tallshelf.run.scenario.declarations import declared
    from tallshelf.run.scenario.player import actor, agree
    from tallshelf.service.catalog import actions as catalog
    from tallshelf.service.review import actions as review

    tomas = actor("tomas")
    catalog.enrol_server(tomas, slug, title=slug, team="berths", contact="c")
    launch = [{"environment": "production", "transport": "stdio", "command": slug}]
    one = review.read_submission(tomas, declared("berth-planner", "1.4.1"), "1.4.1", launch)
    return agree(review.submit(tomas, slug, one)[0])


def _a_release(slug: str) -> list[dict[str, Any]]:
    """Publish a first release and return its entries."""
    from tallshelf.run.scenario.player import actor
    from tallshelf.service.ledger.queries import all_entries
    from tallshelf.service.review import actions as review

    review.publish(actor("tomas"), _agreed(slug).pk)
    return [row for row in all_entries() if slug in (row["subjects"] or ())]


def _fill_up_to(size: int, template: list[dict[str, Any]]) -> None:
    """Append the entries of made-up servers' first releases, as this service would have written them."""
    from tallshelf.core.ledger import entry_hash, entry_mac
    from tallshelf.service.ledger import keys
    from tallshelf.service.ledger.models import Entry

    last = Entry.objects.order_by("-number").values("number", "hash").first()
    assert last is not None
    number, previous, key = last["number"], last["hash"], keys.mac_key()
    made = []
    for row in _clones(template, number):
        if number >= size:
            break
        number += 1
        row |= {"number": number, "previous": previous}
        row["hash"] = previous = entry_hash(row)
        made.append(
            Entry(**{**row, "subjects": json.dumps(row["subjects"]), "mac": entry_mac(key, previous)})
        )
    Entry.objects.bulk_create(made, batch_size=500)


def _clones(template: list[dict[str, Any]], begin: int) -> Iterator[dict[str, Any]]:
    from tallshelf.core.snapshot import canonical, digest

    old = template[0]["subject"]
    at = begin
    while True:
        at += 1
        slug, request = f"made-up-{at}", 1_000_000 + at
        for row in template:
            body = json.loads(row["body"].replace(f'"{old}"', f'"{slug}"'))
            if "request" in body:
                body["request"] = request
            if "assessed" in body:
                body["assessed"]["inputs"]["server"] = digest([slug, "berths", "internal"])
            yield {
                **row,
                "subject": slug,
                "subjects": [slug],
                "body": canonical(body).decode("utf-8"),
            }


if __name__ == "__main__":
    main()
