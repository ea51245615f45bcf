"""Webhooks: signed, in order, tried again under one name, and kept by their team alone."""

from __future__ import annotations

import json
import socket
import time
from dataclasses import replace
from datetime import timedelta

import pytest

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.telling import holds
from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.ledger.models import Entry
from tallshelf.service.telling import outbox, sending, webhooks
from tallshelf.service.telling.models import Delivery, Webhook
from tallshelf.service.verifying import verify
from tests.service.post import HOOK, PORT, made, post, suspend


def test_an_event_arrives_signed_and_says_why_it_concerns_the_team(published, reached, hooks):
    published("1.4.1")
    _, secret = made()
    suspend()
    assert post() == 1 and post() == 0
    ((headers, body),) = hooks.came
    assert headers["Content-Type"].startswith("application/cloudevents+json")
    came = [headers[f"webhook-{name}"] for name in ("id", "timestamp", "signature")]
    now = int(time.time())
    assert holds(secret, *came, body, now=now) and not holds(secret, *came, body + b" ", now=now)
    event = json.loads(body)
    assert event["type"] == "tallshelf.server.suspended" and event["source"] == "https://shelf.pellam.example"
    assert event["id"] == str(Entry.objects.get(event="suspended").number)
    assert event["data"]["because"] == "your team owns berth-planner"
    assert Webhook.objects.get().made_by.username == "tomas" and verify().holds


def test_a_failing_address_rests_longer_each_time_keeps_the_order_and_the_name(published, reached, hooks):
    published("1.4.1")
    made()
    hooks.statuses = [503, 500, 302]
    suspend("One.")
    suspend("Two.", "")
    moment, gaps = clock.now(), []
    for _ in range(3):
        with clock.at(moment):
            assert post() == 1 and post() == 0
        webhook = Webhook.objects.get()
        gaps.append(webhook.resting_until - moment)
        moment = webhook.resting_until
    assert gaps[0] < gaps[1] < gaps[2] and webhook.failures == 3
    assert "redirects" in Delivery.objects.order_by("pk").first().error
    with clock.at(moment):
        assert post() == 1 and post() == 1 and post() == 0
    assert Webhook.objects.get().failures == 0
    names = [headers["webhook-id"] for headers, _ in hooks.came]
    assert len(set(names[:4])) == 1 and names[4] != names[0]
    assert len({body for _, body in hooks.came[:4]}) == 1
    assert b"One" in hooks.came[3][1] and b"Two" in hooks.came[4][1]


def test_after_the_last_attempt_it_is_listed_and_a_keeper_sends_it_again(published, reached, api):
    published("1.4.1")
    webhook, _ = made()
    suspend()
    moment = clock.now()
    for _ in range(outbox.MOST_ATTEMPTS):
        with clock.at(moment):
            post()
        moment += timedelta(hours=9)
    row = Delivery.objects.get()
    assert row.state == "undeliverable" and "could not reach" in row.error
    tomas = api("tomas")
    status, page = tomas.get(f"webhooks/{webhook.pk}/deliveries?state=undeliverable")
    assert status == 200 and page["results"][0]["attempts"] == outbox.MOST_ATTEMPTS
    assert api("jonas").get(f"webhooks/{webhook.pk}/deliveries")[0] == 404
    assert tomas.post(f"deliveries/{row.key}/resend")[0] == 204
    assert Delivery.objects.get().state == "waiting"


def test_an_address_that_is_gone_ends_its_webhook(published, reached, hooks):
    published("1.4.1")
    made()
    hooks.statuses = [410]
    suspend()
    suspend("Two.", "")
    post()
    assert Webhook.objects.get().ended_at is not None and verify().holds
    assert set(Delivery.objects.values_list("state", flat=True)) == {"undeliverable"}
    assert Entry.objects.order_by("-number").first().event == "webhook-ended"


def test_for_a_day_after_a_rotation_both_secrets_hold(published, reached, hooks, api):
    published("1.4.1")
    webhook, old = made()
    status, answer = api("tomas").post(f"webhooks/{webhook.pk}/secret")
    assert status == 201 and answer["secret"] != old
    suspend()
    post()
    with clock.at(clock.now() + timedelta(days=2)):
        suspend("Two.", "")
        post()
    first, second = (
        [headers[f"webhook-{name}"] for name in ("id", "timestamp", "signature")] + [body]
        for headers, body in hooks.came
    )

    def good(secret, came):
        return holds(secret, *came, now=int(came[1]))

    assert good(old, first) and good(answer["secret"], first)
    assert not good(old, second) and good(answer["secret"], second)
    assert old not in json.dumps(list(Webhook.objects.values()), default=str)
    assert HOOK not in "".join(Entry.objects.values_list("body", flat=True))  # an address may hold a secret


def test_who_may_keep_a_webhook_and_where_it_may_go(published, reached, api):
    published("1.4.1")
    for who in ("jonas", "edda", "ci-berths"):
        with pytest.raises(Denied):
            made(who)
    with pytest.raises(Denied, match="may not send to"):
        webhooks.make_webhook(history.actor("tomas"), "berths", "http://169.254.169.254/")
    with pytest.raises(BadArgument, match="no event has the type"):
        made(types=["kit.lost"])
    webhook, _ = made()
    with pytest.raises(Conflict, match="already"):
        made("ines")
    with pytest.raises(NotFound):
        webhooks.rotate(history.actor("jonas"), webhook.pk)
    status, body = api("tomas").post(f"webhooks/{webhook.pk}/end", {"reason": "Another receiver."})
    assert status == 200 and body["ended_at"] and not body["may_keep"]
    assert api("tomas").post(f"webhooks/{webhook.pk}/trial")[0] == 409


def test_a_webhook_is_told_what_its_team_may_see_and_asked_for(published, submitted, reached):
    published("1.4.1")
    for team, about, types in (
        ("berths", "team", []), ("crew", "team", []), ("crew", "catalog", []), ("berths", "catalog", ["kit.put"])
    ):  # fmt: skip
        webhooks.make_webhook(history.actor("ines"), team, f"{HOOK}?{team}{about}", about, types)
    submitted("1.5.0")
    suspend()
    events = dict(Entry.objects.values_list("number", "event"))
    told: dict[str, list[str]] = {}
    for address, entry in Delivery.objects.values_list("webhook__address", "entry"):
        told.setdefault(address.partition("?")[2], []).append(events[entry])
    assert told == {"berthsteam": ["release-submitted", "suspended"], "crewcatalog": ["suspended"]}


def test_a_row_that_was_edited_sends_nothing(published, reached, hooks):
    published("1.4.1")
    made()
    Webhook.objects.update(address=f"http://127.0.0.1:{PORT}/elsewhere")
    suspend()
    post()
    assert not hooks.came and "not as the ledger tells" in Delivery.objects.get().error
    assert "webhook 1: address" in " ".join(verify().differences)


def test_a_trial_says_that_nothing_happened(published, reached, hooks, api):
    webhook, _ = made()
    assert api("tomas").post(f"webhooks/{webhook.pk}/trial")[0] == 200
    assert api("tomas").post(f"webhooks/{webhook.pk}/trial")[0] == 409
    post()
    assert json.loads(hooks.came[0][1])["type"] == "tallshelf.webhook.trial"


def test_a_receiver_that_never_answers_holds_one_thread_for_a_while(published, reached, settings):
    published("1.4.1")
    made()
    suspend()
    with socket.create_server(("127.0.0.1", PORT)):
        (row,) = outbox.claim_events(9, ())
        bounds, sending._BOUNDS = (
            sending._BOUNDS,
            replace(sending._BOUNDS, request_seconds=0.3, total_seconds=0.5),
        )
        try:
            sending.send_event(row)
        finally:
            sending._BOUNDS = bounds
    assert Delivery.objects.get().state == "waiting" and Webhook.objects.get().failures == 1
