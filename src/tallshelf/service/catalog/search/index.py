"""Keeping what can be found: a server, and the items of its current release."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator

from django.db import connection, transaction

from tallshelf.core.snapshot import ItemOutline, outline
from tallshelf.core.words.split import sentence_words, split_identifier
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.models import SearchEntry, SearchWord, Server

_CONTROL = re.compile(r"[\x00-\x08\x0b-\x1f\x7f]")
_LONGEST_WORD = 40
_SHORTEST_WORD = 3


@transaction.atomic
def index_server(server: Server) -> None:
    """Put what a server and its current release say in place of what was there before."""
    SearchEntry.objects.filter(server=server).delete()
    entries = list(_entries(server))
    SearchEntry.objects.bulk_create(entries, batch_size=100)
    keep_words(entries)


@transaction.atomic
def rebuild(step: Callable[[int, int], None] = lambda done, all_: None) -> int:
    """Make everything anew and return the number of servers; ``step`` is told how far it is."""
    SearchEntry.objects.all().delete()
    SearchWord.objects.all().delete()
    servers = Server.objects.select_related("team", "current__snapshot").order_by("slug")
    number = servers.count()
    for done, server in enumerate(servers.iterator(), 1):
        index_server(server)
        step(done, number)
    with connection.cursor() as cursor:
        # What was deleted stands in the full-text tables until they are made anew (FTS5, "rebuild").
        for table in ("catalog_search", "catalog_search_word"):
            cursor.execute(f"INSERT INTO {table}({table}) VALUES('rebuild')")
    return number


def is_behind() -> bool:
    """Whether there are servers and nothing can be found, as after an upgrade."""
    return Server.objects.exists() and not SearchEntry.objects.exists()


def _entries(server: Server) -> Iterator[SearchEntry]:
    current = server.current
    seen = outline(storage.load(current.snapshot, current.captured)) if current else None
    yield SearchEntry(
        server=server,
        kind="server",
        name=server.slug,
        words=_clean(" ".join([server.title, server.team.title, *server.tags])),
        text=_clean(seen.instructions if seen else ""),
        parameters="",
    )
    for item in seen.items if seen else ():
        yield _item_entry(server, item)


def _item_entry(server: Server, item: ItemOutline) -> SearchEntry:
    lines = (
        f"{line.name}: {line.description}" if line.description else line.name for line in item.parameters
    )
    return SearchEntry(
        server=server,
        kind=item.kind,
        identity=item.identity,
        name=_clean(item.name),
        words=" ".join(split_identifier(item.name)),
        text=_clean(item.description),
        parameters="\n".join(_clean(line).replace("\n", " ") for line in lines),
    )


def keep_words(entries: Iterable[SearchEntry]) -> None:
    """Remember the words of entries, so that a misspelled one can be read as the nearest."""
    found = {
        word
        for entry in entries
        for text in (
            entry.name.replace("_", " "),
            entry.words,
            entry.text,
            entry.parameters.replace("_", " "),
        )
        for word in sentence_words(text)
        if _SHORTEST_WORD <= len(word) <= _LONGEST_WORD
    }
    rows = [SearchWord(word=word, padded=f"^^{word}$") for word in sorted(found)]
    SearchWord.objects.bulk_create(rows, ignore_conflicts=True, batch_size=400)


def _clean(text: str) -> str:
    # The marks around matching words are control characters, so none may come in with the text.
    return _CONTROL.sub(" ", text)
