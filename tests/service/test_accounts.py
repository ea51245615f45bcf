"""Accounts: invitations, what switching one off ends, and that a steward is nobody else."""

from __future__ import annotations

import json
from datetime import timedelta

import pytest
from django.test import Client

from tallshelf.core.errors import BadArgument, Conflict, Denied
from tallshelf.run.scenario.people import PASSWORD
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people import accounts, desks
from tallshelf.service.people import actions as people
from tallshelf.service.people.models import Desk, Invite, Person
from tallshelf.service.verifying import verify
from tests.service.conftest import Api

NEW = "basalt-lantern-7731"
ADD = {"username": "odd", "name": "Odd Berg", "role": "submitter", "teams": ["berths"]}


@pytest.fixture
def pell(api) -> Api:
    return api("pell", "read", "check", "submit", "sign", "curate", "administer", "tokens")


def sign_in(username: str, password: str) -> int:
    body = {"username": username, "password": password}
    return Client().post("/api/v1/session", body, "application/json").status_code


def accept(code: str, password: str = NEW) -> int:
    return (
        Client()
        .post("/api/v1/invitation", {"code": code, "password": password}, "application/json")
        .status_code
    )


def test_an_invitation_is_used_once_and_in_time(pell):
    status, made = pell.post("people", ADD)
    assert status == 201 and made["code"] and made["code"] not in str(list(Invite.objects.values()))
    assert sign_in("odd", NEW) == 401
    assert accept(made["code"], "short") == 400 and accept("wrong") == 403
    assert accept(made["code"]) == 204 and sign_in("odd", NEW) == 200
    assert accept(made["code"], "other-lantern-7731") == 403
    again = pell.post("people/odd/invitation")[1]["code"]
    newer = pell.post("people/odd/invitation")[1]["code"]
    assert accept(again) == 403  # the newer one ended it
    with clock.at(clock.now() + accounts.INVITE_LASTS + timedelta(minutes=1)):
        assert accept(newer) == 403
    assert verify().differences == ()


def test_a_new_password_signs_out_everywhere(pell, api):
    edda = Client()
    edda.post("/api/v1/session", {"username": "edda", "password": PASSWORD}, "application/json")
    assert edda.get("/api/v1/sessions").status_code == 200
    assert accept(pell.post("people/edda/invitation")[1]["code"]) == 204
    assert edda.get("/api/v1/sessions").status_code == 401
    assert sign_in("edda", PASSWORD) == 401


def test_switching_an_account_off_ends_what_it_has(pell, api):
    tomas = api("tomas")
    assert tomas.get("servers")[0] == 200
    status, page = pell.call("PATCH", "people/tomas", {"active": False})
    row = next(one for one in page["results"] if one["username"] == "tomas")
    assert (status, row["active"], row["tokens"]) == (200, False, [])
    assert tomas.get("servers")[0] == 401 and sign_in("tomas", PASSWORD) == 401
    assert pell.post("people/tomas/invitation")[0] == 409
    pell.call("PATCH", "people/tomas", {"active": True})
    assert sign_in("tomas", PASSWORD) == 200 and tomas.get("servers")[0] == 401
    assert Entry.objects.filter(event="person-changed").count() == 2 and verify().differences == ()


def test_a_steward_signs_as_nobody_else_and_one_is_left(pell):
    token = {"name": "n", "scopes": ["sign"], "days": 1}
    assert pell.post("people/ines/tokens", token)[0] == 403
    assert pell.post("people/ci-berths/tokens", token)[0] == 403
    status, made = pell.post("people/ci-berths/tokens", {**token, "scopes": ["check"]})
    assert status == 201 and made["secret"].startswith("tls_")
    for changes in ({"role": "curator"}, {"active": False}):
        assert pell.call("PATCH", "people/pell", changes)[0] == 403
    with pytest.raises(Conflict, match="last steward"):
        accounts.change_account(people.SETUP, "pell", {"role": "reader"})
    for username, changes, error in (
        ("ci-berths", {"role": "reader"}, BadArgument),
        ("tomas", {"role": "ci"}, BadArgument),
        ("tomas", {"role": "king"}, BadArgument),
    ):
        with pytest.raises(error):
            accounts.change_account(actor("pell"), username, changes)
    with pytest.raises(Denied):
        accounts.invite(actor("pell"), "ci-berths")


def test_sessions_and_tokens_are_ended_by_a_steward_with_the_scope_only(pell, api):
    edda = Client()
    edda.post("/api/v1/session", {"username": "edda", "password": PASSWORD}, "application/json")
    assert pell.call("DELETE", "people/edda/sessions")[0] == 204
    assert edda.get("/api/v1/sessions").status_code == 401
    made = people.make_token(actor("edda"), "mine", ["read"], 1)[0]
    reading, managing = api("pell", "read"), api("pell", "read", "tokens")
    assert reading.call("DELETE", f"tokens/{made.pk}")[0] == 403
    assert managing.call("DELETE", f"tokens/{made.pk}")[0] == 404
    assert reading.get("people")[0] == 403 and api("ines").get("people")[0] == 403
    assert pell.call("DELETE", f"tokens/{made.pk}")[0] == 204


def test_who_leads_a_desk_sits_there(company):
    def lead() -> str | None:
        found = Desk.objects.get(slug="security").lead
        return found.username if found else None

    assert lead() == "runa"
    for _ in range(2):
        desks.seat_at_desk(actor("pell"), "security", "kari", lead=True)
        assert lead() == "kari"
    accounts.change_account(actor("pell"), "kari", {"active": False})
    assert lead() == "runa"  # who has sat there longest
    accounts.change_account(actor("pell"), "kari", {"active": True})
    desks.leave_desk(actor("pell"), "security", "runa")
    assert lead() == "kari"
    for active in (False, True):
        accounts.change_account(actor("pell"), "kari", {"active": active})
        assert lead() == ("kari" if active else None)
    desks.leave_desk(actor("pell"), "security", "kari")
    assert lead() is None
    accounts.change_account(actor("pell"), "runa", {"active": False})
    with pytest.raises(Denied, match="never signs off"):
        desks.seat_at_desk(actor("pell"), "security", "runa", lead=True)
    bodies = Entry.objects.filter(event="desk-led").order_by("number").values_list("body", flat=True)
    led = [json.loads(body)["username"] for body in bodies]
    assert led[-6:] == ["kari", "runa", "kari", "", "kari", ""] and verify().differences == ()
    Desk.objects.filter(slug="curators").update(lead=None)
    assert verify().differences == ("desk curators: lead is nothing, and the ledger says ines",)


def test_leaving_a_desk_is_told(company):
    desks.leave_desk(actor("pell"), "security", "kari")
    assert not Person.objects.get(username="kari").seats.exists() and verify().differences == ()
