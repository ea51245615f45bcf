"""What a thread keeps of the database between two questions, and when it asks anew."""

from __future__ import annotations

import sqlite3
import threading

import pytest
from django.db import OperationalError, connection, transaction

from tallshelf.service.catalog import shelf
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Team
from tallshelf.service.unmoved import mark, while_unmoved

pytestmark = pytest.mark.django_db(transaction=True)


class Asked:
    """Counts the teams, and how often they were counted."""

    def __init__(self) -> None:
        self.times = 0

    def __call__(self) -> int:
        return while_unmoved(id(self), self._count)

    def _count(self) -> int:
        self.times += 1
        return Team.objects.count()


@pytest.fixture
def asked():
    one = Asked()
    assert (one(), one(), one.times) == (0, 0, 1)
    return one


def test_what_this_connection_wrote_is_seen(asked):
    Team.objects.create(slug="quays", title="Quays")
    assert (asked(), asked(), asked.times) == (1, 1, 2)


def test_what_another_connection_committed_is_seen(asked):
    def write() -> None:
        Team.objects.create(slug="quays", title="Quays")
        connection.close()

    one = threading.Thread(target=write)
    one.start()
    one.join()
    assert (asked(), asked(), asked.times) == (1, 1, 2)


def test_nothing_is_kept_of_what_is_taken_back(asked):
    with pytest.raises(RuntimeError), transaction.atomic():
        Team.objects.create(slug="quays", title="Quays")
        assert asked() == 1
        raise RuntimeError
    assert (asked(), asked()) == (0, 0)


def test_another_thread_asks_for_itself(asked):
    found = []

    def ask() -> None:
        found.append(asked())
        connection.close()

    one = threading.Thread(target=ask)
    one.start()
    one.join()
    assert (found, asked.times) == ([0], 2)


def test_only_the_last_answers_are_kept(asked):
    for number in range(40):
        while_unmoved(("another", number), lambda: 0)
    assert (asked(), asked.times) == (0, 2)


def test_a_database_that_does_not_answer_is_told_as_everywhere(asked, monkeypatch):
    class Gone:
        total_changes = 0

        def execute(self, _):
            raise sqlite3.OperationalError("disk I/O error")

    monkeypatch.setattr(connection, "connection", Gone())
    with pytest.raises(OperationalError):
        mark()


def test_the_shelf_is_kept_and_what_waits_for_somebody_is_asked_each_time(monkeypatch):
    drawn = []
    monkeypatch.setattr(shelf, "_picture", lambda _, wanted: drawn.append(wanted.state) or {})
    somebody = Actor(1, "ines", "Ines", "curator", frozenset(), "session")
    for state in ("", "", "waits-for-me", "waits-for-me"):
        shelf.picture(somebody, shelf.Wanted(q="of this test", state=state))
    assert drawn == ["", "waits-for-me", "waits-for-me"]
