"""The judge, asked by entries alone: accounts, desks, tokens and the catalog, act by act."""

from __future__ import annotations

from typing import Any

import pytest

from tests.core.company import LATER, LATEST, NOW, PERSON, Company

PEOPLE: list[tuple[str, str, dict[str, Any], str | None]] = [
    ("person-added", "oskar", {"username": "new", "role": "reader", "teams": []}, None),
    ("person-added", "ines", {"username": "new", "role": "reader", "teams": []}, "denied"),
    ("person-added", "oskar", {"username": "rosa", "role": "reader", "teams": []}, "conflict"),
    ("person-added", "oskar", {"username": "clock", "role": "reader", "teams": []}, "conflict"),
    ("person-added", "gone", {"username": "new", "role": "reader", "teams": []}, "denied"),
    ("person-added", "nobody", {"username": "new", "role": "reader", "teams": []}, "denied"),
    ("person-changed", "oskar", {**PERSON, "role": "curator"}, None),
    ("person-changed", "ines", {**PERSON, "role": "curator"}, "denied"),
    ("person-changed", "oskar", {**PERSON, "username": "nobody"}, "conflict"),
    ("person-changed", "oskar", {**PERSON, "role": "ci"}, "conflict"),
    ("person-changed", "oskar", {**PERSON, "username": "ci-berths"}, "conflict"),
    ("person-changed", "oskar", {**PERSON, "username": "oskar", "role": "steward"}, None),
    ("person-changed", "oskar", {**PERSON, "username": "oskar", "role": "curator"}, "denied"),
    (
        "person-changed",
        "oskar",
        {**PERSON, "username": "oskar", "role": "steward", "teams": ["tides"]},
        "denied",
    ),
    ("person-changed", "ines", {**PERSON, "username": "oskar", "role": "curator"}, "conflict"),
    ("person-invited", "oskar", {"username": "rosa", "code": "c"}, None),
    ("person-invited", "ines", {"username": "rosa", "code": "c"}, "denied"),
    ("password-changed", "rosa", {"username": "rosa", "password": "p"}, None),
    ("password-changed", "oskar", {"username": "rosa", "password": "p"}, "denied"),
    ("session-ended", "rosa", {"username": "rosa"}, None),
    ("session-ended", "oskar", {"username": "rosa"}, None),
    ("session-ended", "ines", {"username": "rosa"}, "denied"),
    ("desk-added", "ines", {"desk": "law", "owner_team_excluded": True}, None),
    ("desk-added", "tomas", {"desk": "law", "owner_team_excluded": True}, "denied"),
    ("desk-joined", "oskar", {"desk": "security", "username": "jon"}, None),
    ("desk-joined", "ines", {"desk": "security", "username": "jon"}, "denied"),
    ("desk-joined", "oskar", {"desk": "security", "username": "oskar"}, "denied"),
    ("desk-joined", "oskar", {"desk": "security", "username": "ci-berths"}, "denied"),
    ("desk-joined", "oskar", {"desk": "security", "username": "gone"}, "denied"),
    ("desk-joined", "oskar", {"desk": "security", "username": "nobody"}, "denied"),
    ("desk-joined", "oskar", {"desk": "nowhere", "username": "jon"}, "conflict"),
    ("desk-left", "oskar", {"desk": "security", "username": "rosa"}, None),
    ("desk-left", "oskar", {"desk": "security", "username": "gone"}, None),
    ("desk-left", "rosa", {"desk": "security", "username": "rosa"}, "denied"),
    ("deputy-named", "ines", {"username": "ines", "deputy": "jon", "since": NOW, "until": LATER}, None),
    ("deputy-named", "jon", {"username": "ines", "deputy": "jon", "since": NOW, "until": LATER}, "denied"),
    ("deputy-named", "ines", {"username": "ines", "deputy": "ines", "since": NOW, "until": LATER}, "denied"),
    (
        "deputy-named",
        "ines",
        {"username": "ines", "deputy": "ci-berths", "since": NOW, "until": LATER},
        "denied",
    ),
    ("deputy-named", "ines", {"username": "ines", "deputy": "gone", "since": NOW, "until": LATER}, "denied"),
    ("deputy-ended", "ines", {"username": "ines", "deputy": "jon", "number": 1}, None),
    ("deputy-ended", "oskar", {"username": "ines", "deputy": "jon", "number": 1}, None),
    ("deputy-ended", "jon", {"username": "ines", "deputy": "jon", "number": 1}, "denied"),
    ("server-enrolled", "tomas", {"server": "new", "team": "berths", "data_class": "public"}, None),
    ("server-enrolled", "tomas", {"server": "new", "team": "tides", "data_class": "public"}, "denied"),
    ("server-enrolled", "tomas", {"server": "quay", "team": "berths", "data_class": "public"}, "conflict"),
    ("server-enrolled", "ci-berths", {"server": "new", "team": "berths", "data_class": "public"}, "denied"),
    ("server-edited", "tomas", {"server": "quay", "after": {"title": "Quay"}}, None),
    ("server-edited", "signe", {"server": "quay", "after": {"title": "Quay"}}, "denied"),
    ("server-edited", "tomas", {"server": "quay", "after": {"data_class": "confidential"}}, "denied"),
    ("server-edited", "ines", {"server": "quay", "after": {"data_class": "confidential"}}, None),
    ("server-edited", "ines", {"server": "quay", "after": {"data_class": "public"}}, "denied"),
    ("server-edited", "ines", {"server": "nowhere", "after": {}}, "conflict"),
    ("release-adopted", "oskar", {"server": "quay", "version": "1.0.0"}, None),
    ("release-adopted", "ines", {"server": "quay", "version": "1.0.0"}, "denied"),
    ("item-purged", "oskar", {"item": "tool:x", "digest": "d"}, None),
    ("item-purged", "ines", {"item": "tool:x", "digest": "d"}, "denied"),
    ("suspended", "tomas", {"server": "quay", "item": ""}, None),
    ("suspended", "signe", {"server": "quay", "item": ""}, "denied"),
    ("tables-taken", "oskar", {}, "conflict"),
    ("chain-keyed", "oskar", {}, "conflict"),
    ("restored", "oskar", {}, "denied"),
    ("known-bound", "oskar", {"server": "quay", "fingerprints": []}, "denied"),
    ("waiver-bound", "oskar", {"waiver": 1, "fingerprints": []}, "denied"),
    ("desk-reminded", "oskar", {"server": "quay", "request": 1}, "denied"),
    ("commented", "rosa", {"server": "quay", "request": 1, "kind": "remark", "comment": 1}, None),
    ("commented", "ci-berths", {"server": "quay", "request": 1, "kind": "remark", "comment": 1}, "denied"),
    ("release-submitted", "clock", {"server": "quay"}, "denied"),
]


@pytest.fixture(scope="module")
def settled() -> Company:
    """A company in which nothing is asked for; nobody may change it."""
    return Company()


@pytest.mark.parametrize(("event", "actor", "body", "kind"), PEOPLE)
def test_who_may_do_what(settled, event, actor, body, kind):
    if event == "release-submitted":
        body = settled.submission()
    assert settled.why(event, actor, **body) == kind


def test_the_machine_and_the_clock_are_nobody_elsewhere(settled):
    assert settled.why("desk-reminded", "clock", "clock", server="quay", request=1) is None
    assert settled.why("desk-reminded", "clock", "session", server="quay", request=1) == "denied"
    added = {"username": "new", "role": "reader", "teams": []}
    assert settled.why("person-added", "setup", "session", **added) == "denied"
    assert settled.why("person-added", "setup", "local", **added) is None
    assert settled.why("release-submitted", "setup", "local", **settled.submission()) == "denied"


TOKENS: list[tuple[str, str, dict[str, Any], str | None]] = [
    ("rosa", "session", {"username": "rosa", "scopes": ["read", "sign"]}, None),
    ("rosa", "token:1", {"username": "rosa", "scopes": ["read"], "parent": 1}, None),
    ("rosa", "token:1", {"username": "rosa", "scopes": ["read"]}, "conflict"),
    ("rosa", "token:1", {"username": "rosa", "scopes": ["read", "sign"], "parent": 1}, "denied"),
    (
        "rosa",
        "token:1",
        {"username": "rosa", "scopes": ["read"], "parent": 1, "expires_at": LATEST},
        "denied",
    ),
    ("rosa", "token:2", {"username": "rosa", "scopes": ["read"], "parent": 2}, "denied"),
    ("rosa", "token:3", {"username": "rosa", "scopes": ["read"], "parent": 3}, "denied"),
    ("rosa", "token:9", {"username": "rosa", "scopes": ["read"], "parent": 9}, "denied"),
    ("jon", "token:1", {"username": "jon", "scopes": ["read"], "parent": 1}, "denied"),
    ("rosa", "token:", {"username": "rosa", "scopes": ["read"]}, "denied"),
    ("oskar", "session", {"username": "rosa", "scopes": ["read"]}, "denied"),
    ("oskar", "session", {"username": "ci-berths", "scopes": ["read", "submit"]}, None),
    ("oskar", "session", {"username": "ci-berths", "scopes": ["read", "sign"]}, "denied"),
    ("ines", "session", {"username": "ci-berths", "scopes": ["read"]}, "denied"),
    ("oskar", "session", {"username": "gone", "scopes": ["read"]}, "conflict"),
    ("setup", "local", {"username": "rosa", "scopes": ["read"]}, None),
    ("setup", "local", {"username": "ci-berths", "scopes": ["curate"]}, "denied"),
]


@pytest.mark.parametrize(("actor", "via", "body", "kind"), TOKENS)
def test_tokens_give_no_more_than_their_maker_has(actor, via, body, kind):
    company = Company()
    company.do("token-made", "rosa", **company.token(1, "rosa", ["read", "tokens"]))
    company.do("token-made", "rosa", **company.token(2, "rosa", ["read"]))
    company.do("token-made", "rosa", **company.token(3, "rosa", ["read", "tokens"]))
    company.do("token-ended", "rosa", username="rosa", token=3)
    made = company.token(4, "x", []) | body
    assert company.why("token-made", actor, via, **made) == kind


def test_a_token_ends_by_time_with_its_owner_and_with_what_made_it():
    company = Company()
    company.do("token-made", "rosa", **company.token(1, "rosa", ["read", "tokens", "sign"]))
    company.do("token-made", "rosa", "token:1", **company.token(2, "rosa", ["sign"], parent=1))
    remark = {"server": "quay", "request": 1, "kind": "remark", "comment": 1}
    assert company.why("commented", "rosa", "token:2", **remark) is None
    assert company.why("commented", "rosa", "token:2", at=LATER, **remark) == "denied"
    company.do("token-ended", "rosa", username="rosa", token=1)
    assert company.why("commented", "rosa", "token:2", **remark) == "denied"
    company.do("token-made", "rosa", **company.token(5, "rosa", ["sign"]))
    assert company.why("commented", "rosa", "token:5", **remark) is None
    company.do("person-changed", "oskar", **{**PERSON, "active": False})
    assert company.state.tokens[5].ended
    assert company.why("commented", "rosa", "token:5", **remark) == "denied"


def test_an_invitation_is_for_one_and_used_once():
    company = Company()
    company.do("person-invited", "oskar", username="rosa", code="first")
    company.do("person-invited", "oskar", username="rosa", code="second")
    word = {"username": "rosa", "password": "p"}
    assert company.why("password-changed", "rosa", "invitation:first", **word) == "denied"
    assert (
        company.why("password-changed", "jon", "invitation:second", username="jon", password="p") == "denied"
    )
    company.do("password-changed", "rosa", "invitation:second", **word)
    assert company.state.passwords == {"rosa": "p"}
    assert company.why("password-changed", "rosa", "invitation:second", **word) == "denied"
