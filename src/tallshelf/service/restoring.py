"""What a restored backup needs: nobody stays signed in by what was ended since, and what was stopped since stays so.

The acts that a backup does not know are lost with it. That they were, and where the ledger stood that it replaced, is
an entry of its own. Until the keys are there by which it can be written, a file beside the database keeps what it is
to say.
"""

from __future__ import annotations

import json
import sqlite3
from collections import Counter
from contextlib import closing
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.sessions.models import Session
from django.db import transaction

from tallshelf.core.errors import LedgerBroken
from tallshelf.core.ledger.events import Event
from tallshelf.service.catalog.actions import suspend
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.actions import SETUP, end_token
from tallshelf.service.people.models import ConsoleSession, Person, Token
from tallshelf.service.telling import outbox

MARK = "restored.json"
_ACTS = "SELECT number, at, event, actor, subject FROM main.ledger_entry WHERE number > ? ORDER BY number"
_COMMON = """
SELECT coalesce(max(here.number), 0) FROM main.ledger_entry AS here
JOIN backup.ledger_entry AS there ON there.number = here.number AND there.hash = here.hash"""
_HEAD = "SELECT number, hash FROM {}.ledger_entry ORDER BY number DESC LIMIT 1"
_STOPPED = """
SELECT server.slug, one.item, one.reason, person.username FROM {0}.catalog_suspension AS one
JOIN {0}.catalog_server AS server ON server.id = one.server_id
JOIN {0}.people_person AS person ON person.id = one.by_id WHERE one.lifted_at IS NULL"""
_ENDED = """
SELECT here.name FROM main.people_token AS here JOIN backup.people_token AS there ON there.hash = here.hash
WHERE here.ended_at IS NOT NULL AND there.ended_at IS NULL"""


@dataclass(frozen=True)
class Loss:
    """What is in a database and not in the backup that is to replace it.

    ``acts`` are entries (number, moment, event, actor, subject), ``stopped`` suspensions that stand (server, item,
    reason, by), ``ended`` the names of tokens that the backup takes for good; ``replaced`` and ``backup`` are the
    heads (number, hash) of both ledgers.
    """

    acts: list[tuple[Any, ...]] = field(default_factory=list)
    stopped: list[tuple[str, str, str, str]] = field(default_factory=list)
    ended: list[str] = field(default_factory=list)
    replaced: tuple[int, str] = (0, "")
    backup: tuple[int, str] = (0, "")

    def told(self) -> list[str]:
        """Return it in lines, the latest acts last."""
        kinds = Counter(str(event) for _, _, event, *_ in self.acts)
        lines = [f"{count} × {event}" for event, count in kinds.most_common()]
        lines += [f"{at} {event} {subject} by {by}" for _, at, event, by, subject in self.acts[-10:]]
        lines += [f"the token {name!r} was ended since; all tokens will be ended" for name in self.ended]
        lines += [f"{_named(slug, item)} is suspended and stays so" for slug, item, *_ in self.stopped]
        return lines


def loss(database: Path, backup: Path) -> Loss:
    """Return what would be lost; parts that one of the two, made by an older version, does not tell are left out."""
    with closing(sqlite3.connect(f"{database.absolute().as_uri()}?mode=ro", uri=True)) as connection:
        connection.execute("ATTACH ? AS backup", (f"{backup.absolute().as_uri()}?immutable=1",))
        (common,) = connection.execute(_COMMON).fetchone()
        standing = {row[:2] for row in _rows(connection, _STOPPED.format("backup"))}
        known = {slug for (slug,) in _rows(connection, "SELECT slug FROM backup.catalog_server")}
        return Loss(
            acts=connection.execute(_ACTS, (common,)).fetchall(),
            stopped=[
                row
                for row in _rows(connection, _STOPPED.format("main"))
                if row[0] in known and row[:2] not in standing
            ],
            ended=[name for (name,) in _rows(connection, _ENDED)],
            replaced=connection.execute(_HEAD.format("main")).fetchone() or (0, ""),
            backup=connection.execute(_HEAD.format("backup")).fetchone() or (0, ""),
        )


def _rows(connection: sqlite3.Connection, question: str) -> list[Any]:
    try:
        return connection.execute(question).fetchall()
    except sqlite3.OperationalError:
        return []


def note(data: Path, loss: Loss) -> None:
    """Keep beside the database what is to be recorded once it can be."""
    path = data / MARK
    path.touch(mode=0o600)
    path.write_text(json.dumps({**asdict(loss), "acts": len(loss.acts)}), "utf-8")


def finish() -> bool:
    """End tokens and sign-ins, stop again what was stopped, and record it; False where it cannot be recorded yet."""
    path = Path(settings.CONFIG.data) / MARK
    if not path.exists():
        return True
    told = json.loads(path.read_text("utf-8"))
    number, hash_ = told["replaced"]
    if told["acts"] and Entry.objects.filter(number=number, hash=hash_).exists():
        path.unlink()  # it was killed before the database was replaced
        return True
    try:
        with transaction.atomic():
            _finish(told)
    except LedgerBroken:
        return False
    path.unlink()
    return True


def _finish(told: dict[str, Any]) -> None:
    ConsoleSession.objects.all().delete()
    Session.objects.all().delete()
    for token in Token.objects.filter(ended_at=None):
        end_token(SETUP, token.pk)
    for slug, item, reason, by in told["stopped"]:
        person = Person.objects.filter(username=by).first() or Person.objects.filter(role="steward").first()
        if person is not None:
            suspend(replace(SETUP, id=person.pk), slug, reason, item)
    outbox.stop_waiting("a backup was restored: it may have been sent before")
    (replaced, replaced_hash), (backup, backup_hash) = told["replaced"], told["backup"]
    about = {
        "replaced": replaced,
        "replaced_hash": replaced_hash,
        "backup": backup,
        "backup_hash": backup_hash,
    }
    record(SETUP, Event.RESTORED, {**about, "lost": told["acts"]})


def _named(slug: str, item: str) -> str:
    return f"{slug}#{item}" if item else slug
