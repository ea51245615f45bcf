"""Mail: as each person chose, to an address that is theirs, and how people choose."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.telling import following
from tallshelf.service.telling.models import Delivery, MailAddress, Notice
from tests.service.post import confirmed, mailbox, post, suspend, text_of


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
