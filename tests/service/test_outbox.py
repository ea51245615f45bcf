"""What leaves the service: stored with its act, sent at least once under one name, and never in an act's way."""

from __future__ import annotations

import email
import json
import socket
import threading
import time
from contextlib import contextmanager
from dataclasses import replace
from datetime import timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest
from aiosmtpd.controller import Controller
from django.conf import settings as django_settings
from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.telling import holds
from tallshelf.run.ports import free_ports
from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.ledger.models import Entry
from tallshelf.service.telling import following, outbox, sending, webhooks
from tallshelf.service.telling.models import Delivery, MailAddress, Notice, Webhook
from tallshelf.service.verifying import verify

PORT, SMTP = free_ports(2)
HOOK = f"http://127.0.0.1:{PORT}/hooks"


@pytest.fixture
def reached(settings):
    """Settings by which mail and webhooks go to this test."""
    settings.CONFIG = replace(
        django_settings.CONFIG,
        mail_host="127.0.0.1",
        mail_port=SMTP,
        mail_security="none",
        mail_sender="Tall Shelf <shelf@pellam.example>",
        webhook_allow=(f"http://127.0.0.1:{PORT}",),
        address="https://shelf.pellam.example",
    )


class Hooks(BaseHTTPRequestHandler):
    """Answers with the statuses it is told, 204 after; keeps what came."""

    came: list[tuple[dict[str, str], bytes]] = []
    statuses: list[int] = []

    def do_POST(self):
        body = self.rfile.read(int(self.headers["Content-Length"]))
        self.came.append((dict(self.headers), body))
        status = self.statuses.pop(0) if self.statuses else 204
        self.send_response(status)
        if status == 302:
            self.send_header("Location", "http://127.0.0.1:1/")
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, *_):
        pass


@pytest.fixture
def hooks():
    Hooks.came, Hooks.statuses = [], []
    server = ThreadingHTTPServer(("127.0.0.1", PORT), Hooks)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield Hooks
    server.shutdown()
    server.server_close()


class Box:
    def __init__(self):
        self.mails, self.answers = [], []

    async def handle_DATA(self, server, session, envelope):
        self.mails.append(email.message_from_bytes(envelope.content))
        return self.answers.pop(0) if self.answers else "250 ok"

    async def handle_RCPT(self, server, session, envelope, address, options):
        if address.startswith("gone"):
            return "550 no such mailbox"
        envelope.rcpt_tos.append(address)
        return "250 ok"


@contextmanager
def mailbox():
    box = Box()
    running = Controller(box, hostname="127.0.0.1", port=SMTP)
    running.start()
    try:
        yield box
    finally:
        running.stop()


def confirmed(who: str, how: str, address: str = "") -> None:
    MailAddress.objects.create(
        person_id=history.actor(who).id,
        address=address or f"{who}@pellam.example",
        how=how,
        asked_at=clock.now(),
        confirmed_at=clock.now(),
    )


def post(most: int = 20) -> int:
    """Send what is due, as the threads do, in this one."""
    count = 0
    for rows in outbox.claim_mails(most, ()):
        sending.send_mail(rows)
        count += 1
    for row in outbox.claim_events(most, ()):
        sending.send_event(row)
        count += 1
    return count


def suspend(reason: str = "It dreams.", item: str = "tool:book_berth"):
    return catalog.suspend(history.actor("ines"), "berth-planner", reason, item)


def text_of(mail) -> tuple[str, str]:
    return tuple(part.get_payload(decode=True).decode() for part in mail.get_payload())


def test_mail_goes_out_as_each_person_chose_and_texts_are_no_markup(published, reached):
    published("1.4.1")
    confirmed("tomas", "mail")
    suspend('It <b>dreams</b>\nBcc: all@pellam.example & "more".')
    assert Delivery.objects.count() == 1
    with mailbox() as box:
        assert post() == 1 and post() == 0
    (mail,) = box.mails
    assert mail["To"] == "tomas@pellam.example" and mail["Bcc"] is None
    assert mail["Subject"].startswith("[Tall Shelf] tool:book_berth of berth-planner is suspended")
    row = Delivery.objects.get()
    assert row.state == "sent" and mail["Message-ID"] == f"<{row.key}@pellam.example>"
    plain, html = text_of(mail)
    assert "https://shelf.pellam.example/servers/berth-planner" in plain
    assert "because your team owns berth-planner" in plain
    assert "<b>dreams" not in html and "&lt;b&gt;dreams" in html


def test_a_mail_that_fails_keeps_its_name_and_waits_longer_each_time(published, reached):
    published("1.4.1")
    confirmed("tomas", "mail")
    suspend()
    assert post() == 1  # nobody listens
    first = Delivery.objects.get()
    assert first.state == "waiting" and "no mail could be sent" in first.error and post() == 0
    with mailbox() as box, clock.at(first.due_at):
        box.answers = ["451 later", "250 ok"]
        assert post() == 1
        second = Delivery.objects.get()
        assert second.due_at - clock.now() > timedelta(seconds=10)
        with clock.at(second.due_at):
            assert post() == 1
    assert [one["Message-ID"] for one in box.mails] == [f"<{first.key}@pellam.example>"] * 2
    assert Delivery.objects.get().state == "sent"


def test_what_cannot_be_delivered_is_listed_and_sent_again_by_a_steward(published, reached, api):
    published("1.4.1")
    confirmed("tomas", "mail", "gone@pellam.example")
    suspend()
    with mailbox() as box:
        post()
        lost = Delivery.objects.get()
        assert lost.state == "undeliverable" and lost.answer == "550"
        status, page = api("pell", "read", "administer").get("deliveries?state=undeliverable")
        assert status == 200 and [one["key"] for one in page["results"]] == [lost.key]
        assert page["results"][0]["to"] == "tomas"
        MailAddress.objects.update(address="tomas@pellam.example")
        assert api("tomas").post(f"deliveries/{lost.key}/resend")[0] == 404
        assert api("pell", "read", "administer").post(f"deliveries/{lost.key}/resend")[0] == 204
        post()
    assert len(box.mails) == 1 and Delivery.objects.get().state == "sent"


def test_a_digest_is_one_mail_a_day_and_stays_the_same_over_retries(published, reached):
    published("1.4.1")
    confirmed("tomas", "digest")
    suspend()
    suspend("And drifts.", "")
    assert post() == 0
    due = Delivery.objects.order_by("pk").first().due_at
    assert due.hour == 7 and due - clock.now() <= timedelta(days=1)
    with clock.at(due):
        assert post() == 1  # nobody listens
    failed = Delivery.objects.order_by("pk").first()
    with clock.at(due + timedelta(seconds=1)):
        suspend("And more.", "tool:find_free_berth")  # for tomorrow's
    with mailbox() as box, clock.at(failed.due_at):
        assert post() == 1
    (mail,) = box.mails
    assert "2 things" in mail["Subject"] and mail["Message-ID"] == f"<{failed.batch}@pellam.example>"
    plain, _ = text_of(mail)
    assert "And drifts" in plain and "And more" not in plain
    assert sorted(Delivery.objects.values_list("state", flat=True)) == ["sent", "sent", "waiting"]


def test_an_address_is_used_once_the_code_that_went_there_came_back(published, reached, api):
    published("1.4.1")
    tomas = api("tomas")
    assert tomas.call("PATCH", "mail", {"address": "no address"})[0] == 400
    assert tomas.call("PATCH", "mail", {"how": "mail"})[0] == 409
    status, shown = tomas.call("PATCH", "mail", {"address": "tomas@pellam.example"})
    assert status == 200 and not shown["confirmed"] and shown["sends"]
    assert tomas.call("PATCH", "mail", {"address": "other@pellam.example"})[0] == 409  # in a minute
    suspend()
    with mailbox() as box:
        post()
    (mail,) = box.mails
    code = next(word for word in text_of(mail)[0].split() if len(word) == 16 and word.isalnum())
    assert tomas.post("mail/confirmation", {"code": "0" * 16})[0] == 400
    assert tomas.post("mail/confirmation", {"code": code})[1]["confirmed"]
    assert tomas.get("mail")[1]["how"] == "mail"
    with clock.at(clock.now() + timedelta(minutes=2)):
        tomas.call("PATCH", "mail", {"address": "other@pellam.example"})
        assert tomas.post("mail/confirmation", {"code": code})[0] == 400
    late = clock.now() + timedelta(days=2)
    with clock.at(late), pytest.raises(BadArgument, match="older than a day"):
        following.confirm_mail(history.actor("tomas"), following.code_of(MailAddress.objects.get()))


def test_no_mail_is_stored_where_none_is_sent(published):
    published("1.4.1")
    confirmed("tomas", "mail")
    suspend()
    assert Notice.objects.exists() and not Delivery.objects.exists()
    with pytest.raises(Conflict, match="sends no mail"):
        following.set_mail(history.actor("runa"), "runa@pellam.example")


@pytest.mark.parametrize(
    ("who", "chosen", "told"),
    [
        ("edda", {}, None),
        ("edda", {"server:berth-planner": "inbox"}, "inbox"),
        ("edda", {"server:berth-planner": "mail"}, "mail"),
        ("edda", {"team:berths": "digest"}, "digest"),
        ("edda", {"catalog": "mail", "server:berth-planner": "nothing"}, None),
        ("edda", {"catalog": "inbox", "team:berths": "mail"}, "mail"),
        ("edda", {"server:tide-tables": "mail"}, None),
        ("tomas", {}, "inbox"),
        ("tomas", {"catalog": "nothing"}, None),
        ("tomas", {"server:berth-planner": "nothing"}, None),
        ("tomas", {"team:berths": "nothing", "server:berth-planner": "mail"}, "mail"),
    ],
)
def test_the_narrowest_choice_says_how_somebody_is_told(published, reached, who, chosen, told):
    published("1.4.1")
    confirmed(who, "inbox")
    for about, how in chosen.items():
        if about == "server:tide-tables":
            catalog.enrol_server(
                history.actor("ines"),
                "tide-tables",
                title="T",
                team="berths",
                contact="x",
                data_class="internal",
            )
        following.follow(history.actor(who), about, how)
    suspend()
    found = Notice.objects.filter(person_id=history.actor(who).id, type="server.suspended")
    sent = Delivery.objects.filter(person_id=history.actor(who).id).first()
    assert (None if not found else "inbox" if sent is None else "digest" if sent.digest else "mail") == told


def test_following_takes_things_that_are_there_and_is_taken_back(published, api):
    published("1.4.1")
    edda = api("edda")
    for about, status in (
        ("server:nowhere", 404),
        ("berth-planner", 400),
        ("kit:", 400),
        ("team:berths", 200),
    ):
        assert edda.call("PUT", "following", {"about": about, "how": "inbox"})[0] == status, about
    assert edda.get("following")[1]["results"] == [{"about": "team:berths", "how": "inbox"}]
    assert edda.call("PUT", "following", {"about": "team:berths", "how": "default"})[1]["results"] == []
    assert edda.call("PUT", "following", {"about": "catalog", "how": "shout"})[0] == 400


def test_a_follower_is_not_told_what_they_may_not_see(published, submitted):
    for who in ("edda", "jonas", "ines"):
        following.follow(history.actor(who), "catalog", "inbox")
    published("1.4.1")
    submitted("1.5.0")
    told = {who: set(_types(who)) for who in ("edda", "jonas", "ines")}
    assert "request.asked" in told["ines"] and "release.published" in told["edda"]
    assert not {one for who in ("edda", "jonas") for one in told[who] if one.startswith("request.")}


def _types(who: str):
    return Notice.objects.filter(person_id=history.actor(who).id).values_list("type", flat=True)


def test_a_desk_is_told_what_it_is_asked_step_by_step_and_it_counts_as_read(submitted):
    submitted("1.4.1")
    asked = Notice.objects.filter(type="request.asked").select_related("person")
    names = {one.person.username for one in asked}
    assert names and "tomas" not in names
    assert all(one.read_at is not None and "is asked" in one.because for one in asked)


def made(who: str = "tomas", **more):
    return webhooks.make_webhook(history.actor(who), "berths", HOOK, **more)


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


def test_two_senders_never_hold_the_same_row_and_a_lease_runs_out(published, reached):
    published("1.4.1")
    confirmed("tomas", "mail")
    made()
    suspend()
    assert len(outbox.claim_mails(9, ())) == 1 and len(outbox.claim_events(9, ())) == 1
    assert not outbox.claim_mails(9, ()) and not outbox.claim_events(9, ())
    with clock.at(clock.now() + outbox.LEASE + timedelta(seconds=1)):
        assert len(outbox.claim_mails(9, ())) == 1 and len(outbox.claim_events(9, ())) == 1


def test_what_was_undone_is_sent_to_nobody(published, reached):
    published("1.4.1")
    made()
    with pytest.raises(RuntimeError), transaction.atomic():
        suspend()
        raise RuntimeError
    assert not Delivery.objects.exists()


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


def test_old_messages_are_forgotten_and_what_nobody_takes_is_given_up(published, reached):
    published("1.4.1")
    made()
    suspend()
    for days, states in ((4, ["waiting"]), (6, ["undeliverable"]), (200, [])):
        with clock.at(clock.now() + timedelta(days=days)):
            outbox.forget_past()
        assert list(Delivery.objects.values_list("state", flat=True)) == states
