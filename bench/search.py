"""A search over 200,000 items, against the raw FTS5 query for the same rows.

The yardstick is SQLite's own full-text query, ranked by the same weights and limited to the same
page, with the name and text of each row read. Ours adds: reading the question, verbs that stand
for their like, marking the words, joining server, team and release, and respelling.
"""

from __future__ import annotations

import os
import random
import statistics
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

_ITEMS, _SERVERS, _PAGE, _ROUNDS = 200_000, 2_000, 20, 15
_QUESTIONS = (
    "berth",
    "free berth",
    "get crew certificate",
    "list freight by sailing",
    "tide",
    "cancel booking refund",
    "engine read",
    "find_free_berth",
    "update vessel len",
    "expiring certificates of a crew member",
)
# Twelve words each, the most that are asked for, with as many that may stand for them as there are.
_WIDEST = (
    "get show make set run take give break cut turn work go",
    "check open close list find look move order place call line book",
)
_MISSPELLED = ("free brth", "certficate", "vesel lenght")


def main() -> None:
    with tempfile.TemporaryDirectory() as scratch:
        os.environ["TALLSHELF_DATA"] = scratch
        from tallshelf.run.service_setup import migrate, prepare

        prepare(Path(scratch))
        migrate()
        started = time.perf_counter()
        _fill()
        print(f"{_ITEMS:,} items of {_SERVERS:,} servers indexed in {time.perf_counter() - started:.0f} s")
        _measure()


def _measure() -> None:
    from django.db import connection

    from tallshelf.service.catalog.search import find

    raw_times, our_times = [], []
    with connection.cursor() as cursor:
        for question in _QUESTIONS:
            match = _match_of(question)
            raw, ours = [], []
            for _round in range(_ROUNDS):
                raw.append(_timed(partial(_raw, cursor, match)))
                ours.append(_timed(partial(find, question, limit=_PAGE)))
            assert len(_raw(cursor, match)) >= len(find(question, limit=_PAGE)["results"]) > 0, question
            raw_times.append(statistics.median(raw))
            our_times.append(statistics.median(ours))
            print(f"  {question:<40} {raw_times[-1] * 1e3:8.2f} ms raw  {our_times[-1] * 1e3:8.2f} ms ours")
    raw_median, our_median = statistics.median(raw_times), statistics.median(our_times)
    print(f"raw FTS5 query, median of {len(_QUESTIONS)} questions   {raw_median * 1e3:8.2f} ms")
    print(f"find, median of the same            {our_median * 1e3:8.2f} ms")
    print(f"ratio                               {our_median / raw_median:8.2f}   (at most 5 is meant)")
    for question in _WIDEST:
        taken = statistics.median(_timed(partial(find, question)) for _round in range(3))
        print(f"  twelve words: {question[:26]:<26} {taken * 1e3:8.2f} ms")
    for question in _MISSPELLED:
        taken = statistics.median(_timed(partial(find, question)) for _round in range(5))
        print(f"  misspelled: {question:<28} {taken * 1e3:8.2f} ms, read as {find(question)['respelled']}")


def _timed(call: Callable[[], object]) -> float:
    started = time.perf_counter()
    call()
    return time.perf_counter() - started


def _match_of(question: str) -> str:
    """Return the FTS5 expression that ours asks, so that both look for the same rows."""
    from tallshelf.service.catalog.search.find import expression

    return expression(question)


def _raw(cursor: Any, match: str) -> list[Any]:
    cursor.execute(
        "SELECT rowid, name, text FROM catalog_search WHERE catalog_search MATCH %s "
        "ORDER BY bm25(catalog_search, 10.0, 8.0, 4.0, 2.0), rowid LIMIT %s",
        [match, _PAGE + 1],
    )
    return list(cursor.fetchall())


_VERBS_TEXT = """
get list find create update cancel book release check send read search add remove plan report
"""
_VERBS = _VERBS_TEXT.split()
_NOUNS_TEXT = """
berth crew certificate vessel sailing engine booking refund freight consignment tide quay pilot fare
passenger vehicle lane watch roster drill fuel dock part survey notice slot trailer chamber note
order
"""
_NOUNS = _NOUNS_TEXT.split()
_REST_TEXT = """
free expiring open held heavy low due waiting lost found number length depth draught weight price
day month start end harbour time metres kilograms euro such as with by of one all which when each
oldest newest first returns says whether member report log plan cost stock shelf supplier
"""
_REST = _REST_TEXT.split()


def _fill() -> None:
    from django.utils import timezone

    from tallshelf.service.catalog.models import SearchEntry, Server
    from tallshelf.service.catalog.search.index import keep_words
    from tallshelf.service.people import actions as people

    team = people.add_team(people.SETUP, "berths", "Berths")
    Server.objects.bulk_create(
        Server(
            slug=f"server-{number:04}",
            title=f"Server {number}",
            team=team,
            contact="c",
            data_class="internal",
            enrolled_at=timezone.now(),
        )
        for number in range(_SERVERS)
    )
    servers = list(Server.objects.all())
    dice = random.Random(2210)
    rare = [
        f"{noun}{tail}" for noun in _NOUNS for tail in ("age", "ing", "book", "desk", "gauge", "hold", "mark")
    ]
    for start in range(0, _ITEMS, 10_000):
        entries = [_entry(dice, servers[(start + step) % _SERVERS], rare) for step in range(10_000)]
        SearchEntry.objects.bulk_create(entries, batch_size=500)
        keep_words(entries)


def _entry(dice: random.Random, server: Any, rare: list[str]) -> Any:
    from tallshelf.service.catalog.models import SearchEntry

    words = [dice.choice(_VERBS), dice.choice(_REST), dice.choice(_NOUNS)]
    text = [dice.choice((_NOUNS, _REST, _REST, rare)[dice.randrange(4)]) for _ in range(24)]
    name = "_".join(words)
    lines = (
        f"{dice.choice(_NOUNS)}_{dice.choice(_REST)}: {' '.join(dice.sample(text, 6))}" for _ in range(3)
    )
    return SearchEntry(
        server=server,
        kind="tool",
        identity=f"tool:{name}",
        name=name,
        words=" ".join(words),
        text=" ".join([words[0], *text]),
        parameters="\n".join(lines),
    )


if __name__ == "__main__":
    main()
