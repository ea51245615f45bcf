"""What follows a restore, where it was cut short."""

from __future__ import annotations

import dataclasses

import pytest

from tallshelf.service import clock, restoring
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.models import Token
from tallshelf.service.telling.models import Delivery


@pytest.fixture
def data(settings, tmp_path, api):
    api("ines")  # has a token
    # The keys stay where they are: only the mark is looked for in a directory of the test's.
    for name in ("ledger.key", "checkpoint.key"):
        if (settings.CONFIG.data / name).exists():
            (tmp_path / name).write_bytes((settings.CONFIG.data / name).read_bytes())
    settings.CONFIG = dataclasses.replace(settings.CONFIG, data=tmp_path)
    return tmp_path


def head():
    return Entry.objects.order_by("-number").values_list("number", "hash").first()


def test_a_restore_that_was_killed_before_the_database_was_replaced_ends_nothing(data):
    restoring.note(data, restoring.Loss(acts=[(1, "", "commented", "ines", "")], replaced=head()))
    assert restoring.finish()
    assert Token.objects.filter(ended_at=None).exists()
    assert not Entry.objects.filter(event="restored").exists()
    assert not (data / restoring.MARK).exists()


def test_one_that_was_killed_after_it_is_finished_at_the_next_start(data):
    number, hash_ = head()
    lost = restoring.Loss(
        acts=[(number + 1, "", "commented", "ines", "")],
        replaced=(number + 1, "sha256:" + "0" * 64),
        backup=(number, hash_),
    )
    Delivery.objects.create(key="msg_1", due_at=clock.now(), made_at=clock.now())
    restoring.note(data, lost)
    assert restoring.finish()
    assert not Token.objects.filter(ended_at=None).exists()
    assert Delivery.objects.get().state == "undeliverable"  # it may have been sent since the backup
    assert Entry.objects.filter(event="restored").count() == 1
    assert restoring.finish() and Entry.objects.filter(event="restored").count() == 1
