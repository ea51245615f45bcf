"""Where accounts, tokens, sessions and deputies begin and end, to the moment; and what an act gives back."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest
from django.conf import settings as django_settings
from django.test import Client

from tallshelf.core.errors import BadArgument, Conflict, Denied
from tallshelf.run.scenario.people import PASSWORD
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people import accounts, desks, passwords, sessions
from tallshelf.service.people import actions as people
from tallshelf.service.people.models import ConsoleSession, DeskSeat, Invite, Person, Token
from tallshelf.service.people.queries import actor_for, deputies, sessions_of, tokens_of
from tallshelf.service.people.queries import desks as people_desks

NEW = "basalt-lantern-7731"
SECOND = timedelta(seconds=1)


def browser(username: str, agent: str = "Test") -> Client:
    client = Client(headers={"User-Agent": agent})
    body = {"username": username, "password": PASSWORD}
    assert client.post("/api/v1/session", body, "application/json").status_code == 200
    return client


@pytest.mark.parametrize(("late", "works"), [(-SECOND, True), (timedelta(), False), (SECOND, False)])
def test_an_invitation_ends_with_its_last_moment(company, late, works):
    code = accounts.invite(actor("pell"), "edda")
    with clock.at(Invite.objects.get().expires_at + late):
        if works:
            accounts.accept_invite(code, NEW)
        else:
            with pytest.raises(Denied, match="too old"):
                accounts.accept_invite(code, NEW)


@pytest.mark.parametrize(("late", "works"), [(SECOND, True), (timedelta(), False), (-SECOND, False)])
def test_a_sign_in_ends_once_it_lay_idle_for_as_long_as_it_may(company, late, works):
    now = clock.now()
    sessions.keep_session(Person.objects.get(username="edda"), "key", "x" * 300)
    kept = ConsoleSession.objects.get(key="key")
    assert len(kept.browser) == 200
    idle = timedelta(minutes=django_settings.CONFIG.idle_minutes)
    ConsoleSession.objects.update(last_used_at=now - idle + late)
    with clock.at(now):
        assert sessions.use("key", "edda", by_hand=False) is works
    assert ConsoleSession.objects.filter(key="key").exists() is works


def test_signing_out_ends_the_session_and_leaves_no_row_of_it(company):
    one, other = browser("edda"), browser("edda", "Other")
    assert len(sessions_of(actor("edda"), "")) == 2
    assert one.delete("/api/v1/session").status_code == 204
    assert one.get("/api/v1/inbox").status_code == 401
    assert other.get("/api/v1/inbox").status_code == 200
    assert [row.browser for row in ConsoleSession.objects.all()] == ["Other"]


def test_signing_in_is_paced_and_asking_who_is_signed_in_is_not(company):
    client, wrong = Client(), {"username": "edda", "password": "wrong"}
    answers = [client.post("/api/v1/session", wrong, "application/json").status_code for _ in range(40)]
    assert answers[0] == 401 and answers[-1] == 429
    assert client.get("/api/v1/session").status_code != 429


def test_a_token_notes_its_use_every_five_minutes_and_no_sooner(company):
    token, secret = people.make_token(actor("edda"), "t", ["read"], 1)
    assert len(secret) == len("tls_") + 43
    began = clock.now()
    moments = []
    for after in (timedelta(), timedelta(minutes=5), timedelta(minutes=5, seconds=1)):
        with clock.at(began + after):
            found = people.actor_by_token(secret)
        assert found is not None and found.pk == found.id == Person.objects.get(username="edda").pk
        moments.append(Token.objects.get(pk=token.pk).last_used_at)
    assert moments == [began, began, began + timedelta(minutes=5, seconds=1)]


@pytest.mark.parametrize(("lasts", "works"), [
    (people.LONGEST_ABSENCE, True), (people.LONGEST_ABSENCE + SECOND, False), (timedelta(), False), (SECOND, True),
])  # fmt: skip
def test_a_deputy_stands_in_for_some_time_and_92_days_at_most(company, lasts, works):
    now = clock.now()
    with clock.at(now):
        if works:
            assert people.name_deputy(actor("ines"), "edda", now + lasts).until == now + lasts
        else:
            with pytest.raises(BadArgument, match="at most 92 days"):
                people.name_deputy(actor("ines"), "edda", now + lasts)


def test_a_change_of_an_account_gives_it_back_and_one_that_changes_nothing_too(company):
    changed = accounts.change_account(actor("pell"), "edda", {"name": "Edda Moen"})
    assert (changed.username, changed.name) == ("edda", "Edda Moen")
    assert accounts.change_account(actor("pell"), "edda", {"name": "Edda Moen"}).username == "edda"


def test_a_steward_who_is_switched_off_is_no_other_steward(company):
    pell = Person.objects.get(username="pell")
    Person.objects.filter(role="steward").exclude(pk=pell.pk).update(is_active=False)
    accounts.add_account(people.SETUP, "second", name="Second", role="steward", teams=[])
    accounts.change_account(actor("pell"), "second", {"active": False})
    with pytest.raises(Conflict, match="last steward"):
        accounts.change_account(people.SETUP, "pell", {"role": "curator"})


def test_who_is_seated_again_keeps_the_seat(company):
    before = DeskSeat.objects.get(desk__slug="curators", person__username="ines").since
    desks.seat_at_desk(actor("pell"), "curators", "ines")
    assert DeskSeat.objects.get(desk__slug="curators", person__username="ines").since == before


def test_no_password_is_changed_where_the_issuer_signs_people_in(company, settings):
    settings.CONFIG = replace(settings.CONFIG, passwords=False)
    with pytest.raises(Denied):
        sessions.change_password(actor("edda"), PASSWORD, NEW)
    assert Person.objects.get(username="edda").check_password(PASSWORD)


def test_who_may_not_read_sees_no_sign_ins(company):
    edda = actor_for(Person.objects.get(username="edda"), via="token:1", scopes=frozenset({"submit"}))
    with pytest.raises(Denied):
        sessions_of(edda, "")


def test_what_is_ended_is_ended_once_and_with_all_that_came_of_it(company):
    parent, secret = people.make_token(actor("edda"), "t", ["read", "tokens"], 9)
    by_token = people.actor_by_token(secret)
    assert by_token is not None
    child, _ = people.make_token(by_token, "child", ["read"], 3)
    people.end_token(actor("edda"), parent.pk)
    people.end_token(actor("edda"), parent.pk)
    assert not Token.objects.filter(pk__in=(parent.pk, child.pk), ended_at=None).exists()
    deputy = people.name_deputy(actor("ines"), "edda", clock.now() + timedelta(days=3))
    people.end_deputy(actor("ines"), deputy.pk)
    people.end_deputy(actor("ines"), deputy.pk)
    sessions.keep_session(Person.objects.get(username="edda"), "key", "")
    assert accounts.end_sessions(actor("pell"), "edda") == 1
    assert accounts.end_sessions(actor("pell"), "edda") == 0
    told = Entry.objects.values_list("event", flat=True)
    assert [list(told).count(one) for one in ("token-ended", "deputy-ended", "session-ended")] == [2, 1, 1]


def test_of_deputies_one_sees_those_that_concern_one_and_a_curator_all(company):
    soon = clock.now() + timedelta(days=3)
    people.name_deputy(actor("ines"), "edda", soon)
    people.name_deputy(actor("oskar"), "runa", soon)

    def seen(who: str) -> list[tuple[str, bool]]:
        return [(one["person"].split()[0], one["own"]) for one in deputies(actor(who))]

    assert seen("edda") == [("Ines", False)] and seen("jonas") == []
    assert seen("ines") == [("Ines", True), ("Oskar", False)]
    assert len(seen("pell")) == 2


def test_ones_tokens_are_listed_newest_first_without_those_that_ended(company):
    made = [people.make_token(actor("edda"), name, ["read"], 1)[0] for name in ("one", "two", "three")]
    people.end_token(actor("edda"), made[1].pk)
    assert [row["name"] for row in tokens_of(actor("edda"))] == ["three", "one"]


def test_an_account_is_made_with_a_code_and_leaving_a_desk_takes_a_steward(api):
    pell = api("pell", "read", "check", "submit", "sign", "curate", "administer", "tokens")
    odd = {"username": "odd", "name": "Odd Berg", "role": "submitter", "teams": ["berths"]}
    assert pell.post("people", odd)[0] == 201
    status, made = pell.post("people/odd/invitation")
    assert status == 201 and made["code"]
    with pytest.raises(Denied, match="administer"):
        desks.leave_desk(actor("ines"), "curators", "oskar")
    assert DeskSeat.objects.filter(desk__slug="curators", person__username="oskar").exists()


def test_signing_an_account_out_is_told_where_there_was_a_sign_in(company):
    assert accounts.end_sessions(actor("pell"), "edda") == 0
    assert not Entry.objects.filter(event="session-ended").exists()
    browser("edda")
    assert accounts.end_sessions(actor("pell"), "edda") == 1
    assert Entry.objects.filter(event="session-ended").count() == 1


def test_an_invitation_signs_out_whoever_is_signed_in_by_the_password_of_before(company):
    one = browser("edda")
    accounts.accept_invite(accounts.invite(actor("pell"), "edda"), NEW)
    assert not ConsoleSession.objects.exists()
    assert one.get("/api/v1/servers").status_code == 401


def test_a_new_password_leaves_the_sign_in_it_was_changed_in_and_no_other(company):
    one, other = browser("edda"), browser("edda", "Other")
    (before,) = ConsoleSession.objects.filter(browser="Test").values_list("key", flat=True)
    body = {"old": PASSWORD, "new": NEW}
    assert one.post("/api/v1/password", body, "application/json").status_code == 204
    (after,) = ConsoleSession.objects.values_list("key", flat=True)
    assert after != before and one.get("/api/v1/servers").status_code == 200
    assert other.get("/api/v1/servers").status_code == 401


def test_short_parts_of_a_host_name_may_stand_in_a_password(settings):
    hosts = ("a.quayside.example", "x.io")
    settings.CONFIG = replace(django_settings.CONFIG, allowed_hosts=hosts)
    assert {"a", "x", "io"}.isdisjoint(passwords._words()) and "quayside" in passwords._words()


def test_a_desk_that_nobody_leads_says_so_and_one_that_is_led_by_whom(company):
    desks.add_desk(actor("pell"), "empty", "Empty")
    led = {one["desk"]: one["lead"] for one in people_desks()}
    assert led["empty"] is None and led["curators"] == Person.objects.get(username="ines").name


def test_who_stands_in_for_somebody_has_their_desks_for_as_long(company, api):
    assert actor("edda").desks.isdisjoint({"curators"})
    people.name_deputy(actor("ines"), "edda", clock.now() + timedelta(days=1))
    assert "curators" in actor("edda").desks
    with clock.at(clock.now() + timedelta(days=1)):
        assert "curators" not in actor("edda").desks
    (one,) = deputies(actor("ines"))
    assert api("ines").call("DELETE", f"deputies/{one['id']}") == (204, None)
