"""What leaves the service: stored with its act, claimed by one sender, and given up in the end."""

from __future__ import annotations

from datetime import timedelta

import pytest
from django.db import transaction

from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.telling import following, outbox, webhooks
from tallshelf.service.telling.models import Delivery, Webhook
from tests.service.post import HOOK, confirmed, made, suspend


def test_two_senders_never_hold_the_same_row_and_a_lease_runs_out(published, reached):
    published("1.4.1")
    confirmed("tomas", "mail")
    made()
    suspend()
    assert len(outbox.claim_mails(9, ())) == 1 and len(outbox.claim_events(9, ())) == 1
    assert not outbox.claim_mails(9, ()) and not outbox.claim_events(9, ())
    with clock.at(clock.now() + outbox.LEASE + timedelta(seconds=1)):
        assert len(outbox.claim_mails(9, ())) == 1 and len(outbox.claim_events(9, ())) == 1


def test_each_receiver_is_served_however_much_waits_for_another(published, reached):
    published("1.4.1")
    for number in range(3):
        webhooks.make_webhook(
            history.actor("ines"), "berths", f"{HOOK}?{number}", "catalog" if number else "team"
        )
    first = Webhook.objects.order_by("pk").first()
    for _ in range(30):
        outbox.add_events({first.pk: ""}, 0)
    confirmed("tomas", "mail")
    confirmed("ines", "mail")
    following.follow(history.actor("ines"), "catalog", "mail")
    catalog.suspend(history.actor("oskar"), "berth-planner", "It dreams.", "tool:book_berth")
    assert len({one.webhook_id for one in outbox.claim_events(6, ())}) == 3
    assert len({rows[0].person_id for rows in outbox.claim_mails(6, ())}) == 2


def test_the_pauses_add_up_to_nearly_a_day(monkeypatch):
    for share, least in ((1.0, timedelta(hours=23)), (0.8, timedelta(hours=18))):
        monkeypatch.setattr(outbox.random, "uniform", lambda low, high, share=share: share)
        pauses = [outbox._pause(attempt) for attempt in range(1, outbox.MOST_ATTEMPTS)]
        assert pauses == sorted(pauses) and least < sum(pauses, timedelta()) < timedelta(days=1)


def test_what_was_undone_is_sent_to_nobody(published, reached):
    published("1.4.1")
    made()
    with pytest.raises(RuntimeError), transaction.atomic():
        suspend()
        raise RuntimeError
    assert not Delivery.objects.exists()


def test_old_messages_are_forgotten_and_what_nobody_takes_is_given_up(published, reached):
    published("1.4.1")
    made()
    suspend()
    for days, states in ((4, ["waiting"]), (6, ["undeliverable"]), (200, [])):
        with clock.at(clock.now() + timedelta(days=days)):
            outbox.forget_past()
        assert list(Delivery.objects.values_list("state", flat=True)) == states
