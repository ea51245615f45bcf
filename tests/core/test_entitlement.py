"""The judge, asked by entries alone: who may do what, act by act, in a company of ten."""

from __future__ import annotations

from typing import Any

import pytest

from tallshelf.core.assess import waivers_digest
from tallshelf.core.entitlement import State, advance, entitled
from tallshelf.core.entitlement.inputs import in_force_digest, moved
from tallshelf.core.entitlement.judge import Refused
from tallshelf.core.entitlement.part import behind
from tallshelf.core.entitlement.replay import read_entry
from tallshelf.core.entitlement.standing import asked_now, stands
from tallshelf.core.entitlement.state import moment
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import DEFAULT_RULES, Facts, rule_set_from
from tallshelf.core.routing.route import rule_document
from tallshelf.core.snapshot import digest

RULES = [rule_document(rule) for rule in DEFAULT_RULES.rules]
NOW = "2026-06-01T06:00:00Z"
LATER, LATEST = "2026-07-01T06:00:00Z", "2026-09-01T06:00:00Z"
FACTS = Facts(
    first_release=True,
    worst_impact=None,
    undecided=False,
    silent_changes=0,
    version_honest=True,
    errors=0,
    warnings=0,
    safety_findings=0,
    same_job_overlaps=0,
    writing_tools=0,
    newly_writing_tools=0,
    data_class="internal",
    transports=("stdio",),
    origin="handed in by a person",
    pinned=True,
    tokens=100,
    team="berths",
)


class Company:
    """A ledger that grows act by act; ``why`` asks only, ``do`` must be entitled."""

    def __init__(self) -> None:
        self.state = State()
        self.number = 0
        machine = self.machine
        machine("team-added", team="berths", title="Berths")
        machine("team-added", team="tides", title="Tides")
        for name, role, teams in (
            ("oskar", "steward", []),
            ("ines", "curator", []),
            ("jon", "curator", []),
            ("mara", "curator", ["berths"]),
            ("rosa", "reader", []),
            ("tomas", "submitter", ["berths"]),
            ("signe", "submitter", ["tides"]),
            ("ci-berths", "ci", ["berths"]),
            ("gone", "curator", []),
        ):
            machine("person-added", username=name, role=role, teams=teams)
        machine("person-changed", username="gone", role="curator", teams=[], active=False)
        for desk, people in (("curators", ["ines", "jon", "mara"]), ("security", ["rosa"])):
            machine("desk-added", desk=desk, owner_team_excluded=True)
            for name in people:
                machine("desk-joined", desk=desk, username=name, since=NOW)
        machine("server-enrolled", server="quay", team="berths", data_class="internal")
        rules = {"version": 1, "digest": DEFAULT_RULES.digest, "rules": RULES}
        machine("rules-proposed", **rules, replaces=None)
        machine("rules-changed", version=1, digest=DEFAULT_RULES.digest)

    def _row(self, event: str, actor: str, via: str, body: dict[str, Any], at: str) -> dict[str, Any]:
        return {
            "number": self.number + 1,
            "hash": f"h{self.number + 1}",
            "at": at,
            "event": Event(event),
            "actor": actor,
            "via": via,
            "body": body,
            "subjects": [],
        }

    def why(self, event: str, actor: str, via: str = "session", at: str = NOW, **body: Any) -> str | None:
        """Return as which kind an act would be refused, or None."""
        verdict = entitled(self.state, read_entry(self._row(event, actor, via, body, at)))
        return verdict.kind if isinstance(verdict, Refused) else None

    def do(self, event: str, actor: str, via: str = "session", at: str = NOW, **body: Any) -> None:
        row = self._row(event, actor, via, body, at)
        verdict = entitled(self.state, read_entry(row))
        assert not isinstance(verdict, Refused), (event, actor, verdict)
        advance(self.state, row)
        self.number += 1

    def machine(self, event: str, **body: Any) -> None:
        self.do(event, "setup", "local", **body)

    def assessed(self, snapshot: str, **more: Any) -> dict[str, Any]:
        """Return what an entry says of an assessment that rests on what is in force."""
        state, server = self.state, self.state.servers["quay"]
        inputs = {
            "snapshot": snapshot,
            "server": digest([server.slug, server.team, server.data_class]),
            "rules": in_force_digest(state, "rules"),
            "style": in_force_digest(state, "style"),
            "waivers": waivers_digest(()),
            "known": digest(sorted(state.known.get("quay", ()))),
            "rulings": digest([]),
        }
        own = {
            "base": "first",
            "inputs": inputs,
            "substance": "s",
            "gates": [],
            "facts": FACTS.document(),
            "rule_set": 1,
        }
        return own | more

    def submission(self, number: int = 1, version: str = "1.0.0", **more: Any) -> dict[str, Any]:
        about = {
            "server": "quay",
            "version": version,
            "request": number,
            "release_digest": f"r{number}",
            "snapshot_digest": f"s{number}",
            "assessment_digest": f"a{number}",
            "opened_at": NOW,
        }
        return {**about, "assessed": self.assessed(about["snapshot_digest"], **more)}

    def submit(self, who: str = "tomas", via: str = "session", number: int = 1, **more: Any) -> None:
        self.do("release-submitted", who, via, **self.submission(number, **more))

    def token(self, number: int, owner: str, scopes: list[str], **more: Any) -> dict[str, Any]:
        own = {"token": number, "username": owner, "scopes": scopes, "parent": None, "hash": "x"}
        return own | {"expires_at": LATER} | more


def signing(number: int = 1, desk: str = "curators", **more: Any) -> dict[str, Any]:
    own = {
        "server": "quay",
        "request": number,
        "release_digest": f"r{number}",
        "assessment_digest": f"a{number}",
        "rule_set": 1,
        "desk": desk,
        "deputy_for": "",
        "answer": "agree",
        "despite": [],
    }
    return own | more


def publication(number: int = 1, version: str = "1.0.0", **more: Any) -> dict[str, Any]:
    own = {
        "server": "quay",
        "version": version,
        "request": number,
        "release_digest": f"r{number}",
        "snapshot_digest": f"s{number}",
        "assessment_digest": f"a{number}",
    }
    return own | more


PERSON = {"username": "rosa", "role": "reader", "teams": [], "active": True}
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


SIGNERS: list[tuple[str, dict[str, Any], str | None]] = [
    ("ines", {}, None),
    ("jon", {"answer": "decline"}, None),
    ("mara", {}, "denied"),
    ("tomas", {}, "denied"),
    ("rosa", {}, "denied"),
    ("oskar", {}, "denied"),
    ("gone", {}, "denied"),
    ("ines", {"desk": "security"}, "denied"),
    ("ines", {"release_digest": "other"}, "moved"),
    ("ines", {"assessment_digest": "other"}, "moved"),
    ("ines", {"rule_set": 2}, "moved"),
    ("ines", {"request": 2}, "conflict"),
    ("ines", {"deputy_for": "jon"}, "denied"),
    ("ines", {"despite": [{"gate": "errors", "reason": "r"}]}, "conflict"),
]


@pytest.mark.parametrize(("actor", "body", "kind"), SIGNERS)
def test_who_may_sign(actor, body, kind):
    company = Company()
    company.submit()
    assert company.why("signed-off", actor, **signing(**body)) == kind


def test_who_hands_in_or_made_the_token_that_did_signs_nothing():
    company = Company()
    company.do("token-made", "oskar", **company.token(1, "ci-berths", ["submit"]))
    company.submit("ci-berths", "token:1")
    company.do("desk-joined", "setup", "local", desk="curators", username="oskar", since=NOW)
    act = read_entry(company._row("commented", "ci-berths", "token:1", {}, NOW))
    assert behind(company.state, act) == ("ci-berths", "oskar")
    company.submit("ines", number=2, version="1.1.0")
    assert company.why("signed-off", "ines", **signing(2)) == "denied"
    assert company.why("signed-off", "jon", **signing(2)) is None


def test_part_in_it_outlives_a_request_and_a_number():
    company = Company()
    company.submit("ines")
    company.do("request-taken-back", "ines", server="quay", request=1)
    assert company.state.releases["quay", "1.0.0"].state == "draft"
    company.submit("tomas", number=2, version="1.0.1")
    assert company.why("signed-off", "ines", **signing(2)) == "denied"
    company.do("signed-off", "jon", **signing(2))
    company.do("release-published", "tomas", **publication(2, "1.0.1"))
    company.submit("tomas", number=3, version="1.0.2", base="quay@1.0.1")
    assert company.why("signed-off", "ines", **signing(3)) is None


def test_a_team_member_of_then_is_barred_and_one_of_long_ago_is_not():
    company = Company()
    company.do("person-changed", "oskar", **{**PERSON, "username": "mara", "role": "curator"})
    company.submit()
    assert company.why("signed-off", "mara", **signing()) is None
    company.do(
        "person-changed", "oskar", **{**PERSON, "username": "jon", "role": "curator", "teams": ["berths"]}
    )
    company.do("person-changed", "oskar", **{**PERSON, "username": "jon", "role": "curator"})
    assert company.why("signed-off", "jon", **signing()) == "denied"


def test_who_joins_later_or_deputises_later_signs_not():
    company = Company()
    company.do(
        "deputy-named",
        "ines",
        number=1,
        username="ines",
        deputy="signe",
        since="2026-05-01T06:00:00Z",
        until=LATER,
    )
    company.submit()
    company.do("deputy-named", "jon", number=2, username="jon", deputy="rosa", since=LATER, until=LATEST)
    company.do("desk-joined", "oskar", desk="curators", username="rosa", since=NOW)
    assert company.why("signed-off", "rosa", **signing()) == "denied"
    assert (
        company.why("signed-off", "rosa", at="2026-08-01T06:00:00Z", **signing(deputy_for="jon")) == "denied"
    )
    assert company.why("signed-off", "signe", **signing(deputy_for="ines")) is None
    assert company.why("signed-off", "signe", at=LATEST, **signing(deputy_for="ines")) == "denied"
    company.do("deputy-ended", "ines", username="ines", deputy="signe", number=1)
    assert company.why("signed-off", "signe", **signing(deputy_for="ines")) == "denied"


def test_a_deputy_signs_nothing_that_either_has_part_in():
    company = Company()
    for number, (name, deputy) in enumerate((("mara", "signe"), ("jon", "tomas")), 1):
        company.do(
            "deputy-named",
            name,
            number=number,
            username=name,
            deputy=deputy,
            since="2026-05-01T06:00:00Z",
            until=LATER,
        )
    company.submit()
    assert company.why("signed-off", "signe", **signing(deputy_for="mara")) == "denied"
    assert company.why("signed-off", "tomas", **signing(deputy_for="jon")) == "denied"


def test_from_agreed_to_published():
    company = Company()
    company.submit()
    assert company.why("release-published", "tomas", **publication()) == "conflict"
    company.do("signed-off", "ines", **signing())
    assert company.state.requests[1].state == "agreed"
    assert company.why("signed-off", "jon", **signing()) == "conflict"
    for body, actor, kind in (
        ({}, "tomas", None),
        ({}, "ci-berths", None),
        ({}, "signe", "denied"),
        ({}, "rosa", "denied"),
        ({"release_digest": "other"}, "tomas", "moved"),
        ({"snapshot_digest": "other"}, "tomas", "moved"),
        ({"assessment_digest": "other"}, "tomas", "moved"),
        ({"version": "1.0.1"}, "tomas", "moved"),
        ({"request": 7}, "tomas", "conflict"),
    ):
        assert company.why("release-published", actor, **publication(**body)) == kind, body
    company.do("release-published", "tomas", **publication())
    release = company.state.releases["quay", "1.0.0"]
    assert (release.state, release.published, company.state.requests[1].state) == (
        "published",
        company.number,
        "done",
    )
    assert company.why("release-published", "tomas", **publication()) == "conflict"
    assert company.why("release-submitted", "tomas", **company.submission(2)) == "conflict"


def test_what_it_rests_on_must_still_be_in_force():
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("server-edited", "ines", server="quay", after={"data_class": "confidential"})
    assert company.why("release-published", "tomas", **publication()) == "moved"
    again = {"server": "quay", "request": 1, "assessment_digest": "b", "assessed": company.assessed("s1")}
    assert company.why("reassessed", "clock", "clock", **again, differs=False) is None
    assert company.why("reassessed", "clock", "session", **again, differs=False) == "denied"
    assert company.why("reassessed", "ines", **again, differs=False) is None
    other = {**again, "assessed": company.assessed("s1", substance="t")}
    assert company.why("reassessed", "clock", "clock", **other, differs=False) == "conflict"
    company.do("reassessed", "clock", "clock", **again, differs=False)
    assert company.state.requests[1].state == "agreed"
    assert company.why("release-published", "tomas", **publication(assessment_digest="b")) is None
    company.do("reassessed", "clock", "clock", **other | {"assessment_digest": "c"}, differs=True)
    assert company.state.requests[1].state == "open" and not company.state.requests[1].counting


def test_an_agreement_counts_no_more_once_its_giver_has_part():
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("snapshot-replaced", "ines", **company.submission(assessment_digest="a1"))
    assert company.state.requests[1].counting == ()
    assert company.why("signed-off", "ines", **signing()) == "denied"


def test_questions_and_gates_keep_from_agreeing():
    company = Company()
    gates = [{"gate": "errors", "items": ["tool:x"]}]
    company.submit(gates=gates)
    company.do("commented", "rosa", server="quay", request=1, kind="question", comment=5, answers=None)
    why = {"despite": [{"gate": "errors", "reason": "known"}]}
    assert company.why("signed-off", "ines", **signing(**why)) == "conflict"
    assert company.why("signed-off", "ines", **signing(answer="decline")) is None
    company.do("commented", "tomas", server="quay", request=1, kind="answer", comment=6, answers=5)
    assert company.why("signed-off", "ines", **signing()) == "conflict"
    assert (
        company.why("signed-off", "ines", **signing(despite=[{"gate": "errors", "reason": " "}]))
        == "conflict"
    )
    company.do("signed-off", "ines", **signing(**why))
    assert company.state.requests[1].sign_offs[0].despite == (("errors", "known"),)


def test_safety_findings_are_never_agreed_to():
    company = Company()
    company.submit(gates=[{"gate": "safety-findings", "items": ["tool:x"]}])
    why = {"despite": [{"gate": "safety-findings", "reason": "known"}]}
    assert company.why("signed-off", "ines", **signing(**why)) == "denied"


@pytest.mark.parametrize(("answer", "state"), [("decline", "declined"), ("send-back", "sent-back")])
def test_other_answers_move_a_request_on(answer, state):
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing(answer=answer))
    assert company.state.requests[1].state == state
    declined = {"server": "quay", "version": "1.0.0", "request": 1}
    assert company.why("release-declined", "ines", **declined) == (
        None if state == "declined" else "conflict"
    )
    assert company.why("release-declined", "jon", **declined) == "conflict"
    assert company.why("request-taken-back", "tomas", **declined) == (
        None if state == "sent-back" else "conflict"
    )
    replaced = company.why("snapshot-replaced", "tomas", **company.submission())
    assert replaced == (None if state == "sent-back" else "conflict")


def test_the_second_step_is_asked_once_the_first_agreed():
    company = Company()
    company.submit(facts={**FACTS.document(), "safety_findings": 1})
    found = company.state.requests[1]

    def asked() -> list[str]:
        return [
            one.seat.desk for one in asked_now(stands(company.state, company.state.requests[1], moment(NOW)))
        ]

    assert asked() == ["curators"] and len(found.route.steps) == 2
    assert company.why("signed-off", "rosa", **signing(desk="security")) == "denied"
    company.do("signed-off", "ines", **signing())
    assert asked() == ["security"] and company.state.requests[1].state == "open"
    company.do("signed-off", "rosa", **signing(desk="security"))
    assert company.state.requests[1].state == "agreed"


WAIVER = {
    "server": "quay",
    "waiver": 1,
    "rule": "no-units",
    "item": "tool:x",
    "pointer": None,
    "until": LATER,
    "fingerprints": ["f"],
}


def test_a_waiver_is_granted_by_another_and_to_what_was_asked():
    company = Company()
    assert company.why("waiver-asked", "signe", **WAIVER) == "denied"
    company.do("waiver-asked", "tomas", **WAIVER)
    assert company.why("waiver-asked", "tomas", **WAIVER) == "conflict"
    for actor, body, kind in (
        ("ines", {}, None),
        ("tomas", {}, "denied"),
        ("mara", {}, "denied"),
        ("rosa", {}, "denied"),
        ("ines", {"rule": "other"}, "conflict"),
        ("ines", {"until": LATEST}, "conflict"),
        ("ines", {"fingerprints": ["f", "g"]}, "conflict"),
        ("ines", {"item": "tool:y"}, "conflict"),
        ("ines", {"waiver": 2}, "conflict"),
        ("ines", {"server": "other"}, "conflict"),
    ):
        assert company.why("waiver-granted", actor, **(WAIVER | body)) == kind, (actor, body)
    company.submit("tomas", facts={**FACTS.document(), "safety_findings": 1})
    assert company.why("waiver-granted", "rosa", **WAIVER) is None  # she may sign there
    assert company.why("waiver-refused", "rosa", **WAIVER) is None
    company.do("waiver-granted", "ines", **WAIVER)
    assert company.state.waived["quay"] == {1}
    assert company.why("waiver-granted", "ines", **WAIVER) == "conflict"
    assert company.why("waiver-ended", "tomas", server="quay", waiver=1) is None
    assert company.why("waiver-ended", "signe", server="quay", waiver=1) == "denied"
    company.do("waiver-ended", "tomas", server="quay", waiver=1)
    assert company.state.waived["quay"] == frozenset()
    assert company.why("waiver-ended", "tomas", server="quay", waiver=1) == "conflict"


Proposing = tuple[str, dict[str, Any], str, dict[str, Any], str]
RULING = {"ruling": 1, "members": ["quay#x", "pier#y"], "word": "distinct", "pairs": ["quay#x|pier#y"]}
KNOWN = {"proposal": 1, "server": "quay", "fingerprints": ["f"], "release_digest": "r"}
PROPOSALS: list[Proposing] = [
    ("ruling-proposed", RULING, "ruling-in-force", RULING, "ruling-declined"),
    ("known-proposed", KNOWN, "known-accepted", KNOWN, "known-declined"),
    (
        "style-proposed",
        {"version": 1, "digest": "d", "replaces": 0, "loosened": ["x"]},
        "style-in-force",
        {"version": 1, "digest": "d"},
        "style-declined",
    ),
]


@pytest.mark.parametrize(("proposing", "proposal", "accepting", "body", "declining"), PROPOSALS)
def test_what_loosens_takes_a_second_curator(proposing, proposal, accepting, body, declining):
    company = Company()
    assert company.why(accepting, "jon", **body) == "conflict"
    assert company.why(proposing, "tomas", **proposal) == "denied"
    company.do(proposing, "ines", **proposal)
    assert company.why(accepting, "ines", **body) == "denied"
    assert company.why(accepting, "tomas", **body) == "denied"
    assert company.why(accepting, "jon", **body) is None
    if accepting != "style-in-force":
        assert company.why(accepting, "mara", **body) == "denied"  # she is of the owner team
    assert company.why(declining, "ines", **body) is None
    assert company.why(declining, "rosa", **body) == "denied"
    company.do(accepting, "jon", **body)
    assert company.why(accepting, "jon", **body) == "conflict"
    assert company.why(declining, "jon", **body) == "conflict"


def test_a_ruling_is_what_was_proposed_and_ends():
    company = Company()
    company.do("ruling-proposed", "ines", **RULING)
    assert company.why("ruling-in-force", "jon", **RULING | {"word": "same"}) == "conflict"
    assert company.why("ruling-in-force", "jon", **RULING | {"members": ["quay#x"]}) == "conflict"
    company.do("ruling-in-force", "jon", **RULING)
    assert company.state.standing == {"quay": {1}, "pier": {1}}
    assert company.why("ruling-ended", "ines", ruling=2) == "conflict"
    assert company.why("ruling-ended", "tomas", ruling=1) == "denied"
    company.do("ruling-ended", "ines", ruling=1)
    assert company.state.standing["quay"] == frozenset()
    assert company.why("ruling-ended", "ines", ruling=1) == "conflict"


def test_known_findings_are_what_was_proposed_and_only_shrink():
    company = Company()
    company.do("known-proposed", "ines", **KNOWN)
    assert company.why("known-proposed", "ines", **KNOWN) == "conflict"
    for other in ({"fingerprints": ["f", "g"]}, {"release_digest": "q"}):
        assert company.why("known-accepted", "jon", **KNOWN | other) == "conflict"
    company.do("known-accepted", "jon", **KNOWN)
    assert company.state.known["quay"] == {"f"}
    assert company.why("known-shrunk", "tomas", server="quay", gone=["g"]) == "conflict"
    assert company.why("known-shrunk", "signe", server="quay", gone=["f"]) == "denied"
    company.do("known-shrunk", "tomas", server="quay", gone=["f"])
    assert company.state.known["quay"] == frozenset()


def _rules(version: int, replaces: int, rules: list[dict[str, Any]]) -> dict[str, Any]:
    digest_ = rule_set_from(rules, version).digest
    return {"version": version, "digest": digest_, "rules": rules, "replaces": replaces}


def test_rules_that_ask_less_take_a_second_curator_and_those_that_ask_more_do_not():
    company = Company()
    rules = RULES
    more = [
        *rules,
        {**rules[1], "name": "more", "when": [{"fact": "errors", "operator": "at-least", "value": 1}]},
    ]
    assert company.why("rules-proposed", "ines", **_rules(2, 1, more) | {"digest": "other"}) == "conflict"
    assert company.why("rules-proposed", "ines", **_rules(1, 1, more)) == "conflict"
    company.do("rules-proposed", "ines", **_rules(2, 1, more))
    assert company.why("rules-changed", "ines", version=2) is None
    company.do("rules-changed", "ines", version=2)
    company.do("rules-proposed", "ines", **_rules(3, 2, rules[:1]))
    company.do("rules-proposed", "ines", **_rules(4, 1, rules))
    assert company.why("rules-changed", "ines", version=3) == "denied"
    assert company.why("rules-changed", "jon", version=3) is None
    assert company.why("rules-changed", "jon", version=4) == "conflict"
    assert company.why("rules-changed", "jon", version=9) == "conflict"
    company.do("rules-declined", "ines", version=3)
    assert company.why("rules-changed", "jon", version=3) == "conflict"


def _published() -> Company:
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("release-published", "tomas", **publication())
    return company


ASKED: list[tuple[str, str, dict[str, Any], str, dict[str, Any]]] = [
    ("withdraw", "1.0.0", {"reason": "r"}, "release-withdrawn", {"version": "1.0.0", "reason": "r"}),
    ("data-class", "", {"data_class": "public"}, "data-class-changed", {"after": {"data_class": "public"}}),
]


@pytest.mark.parametrize(("kind", "version", "terms", "event", "done"), ASKED)
def test_an_act_is_carried_out_as_it_was_asked_for(kind, version, terms, event, done):
    company = _published()
    server = company.state.servers["quay"]
    asked_class = terms.get("data_class", server.data_class)
    inputs = company.assessed("s1")["inputs"] | {"server": digest(["quay", "berths", asked_class])}
    asked = {
        "server": "quay",
        "version": version,
        "request": 2,
        "kind": kind,
        "item": "",
        "terms": terms,
        "release_digest": "r2",
        "assessment_digest": "a2",
        "opened_at": NOW,
    }
    company.do("request-opened", "tomas", **asked, assessed=company.assessed("s1", inputs=inputs))
    assert moved(company.state, company.state.requests[2], moment(NOW)) == []
    assert company.why("request-opened", "tomas", **asked) == "conflict"
    assert company.why("request-changed", "signe", **asked) == "denied"
    assert company.why("request-changed", "tomas", **asked) is None
    body = {"server": "quay", "request": 2, "item": "", **done}
    assert company.why(event, "tomas", **body) == "conflict"
    company.do("signed-off", "jon", **signing(2))
    for other in (
        {"request": 1},
        {"item": "tool:x"},
        {"version": "9.0.0"},
        {"after": {"data_class": "secret"}},
    ):
        if not (kind == "withdraw" and "after" in other):
            assert company.why(event, "tomas", **body | other) == "conflict", other
    company.do(event, "tomas", **body)
    assert company.state.requests[2].state == "done"
    state, data_class = (
        company.state.releases["quay", "1.0.0"].state,
        company.state.servers["quay"].data_class,
    )
    assert (state, data_class) == (("withdrawn", "internal") if version else ("published", "public"))
    assert company.why(event, "tomas", **body) == "conflict"


def test_a_suspension_is_lifted_by_a_request_only():
    company = _published()
    company.do("suspended", "tomas", server="quay", item="tool:x")
    assert company.why("suspended", "tomas", server="quay", item="tool:x") == "conflict"
    lifting = {"server": "quay", "item": "tool:x", "request": 2}
    assert company.why("suspension-lifted", "ines", **lifting) == "conflict"
    asked = lifting | {
        "version": "",
        "kind": "lift",
        "terms": {},
        "release_digest": "r2",
        "assessment_digest": "a2",
    }
    company.do("request-opened", "tomas", **asked, assessed=company.assessed("s1"))
    company.do("signed-off", "ines", **signing(2))
    assert company.why("suspension-lifted", "tomas", **lifting | {"item": ""}) == "conflict"
    company.do("suspension-lifted", "tomas", **lifting)
    assert company.state.suspended == {}


def test_steps_are_taken_back_to_what_stood_before():
    company = _published()
    before = {name: dict(value) for name, value in vars(company.state).items() if isinstance(value, dict)}
    number, head = company.state.number, company.state.head
    company.do("person-changed", "oskar", **{**PERSON, "active": False})
    company.do("desk-left", "oskar", desk="security", username="rosa")
    company.do("suspended", "tomas", server="quay", item="")
    for _ in range(3):
        assert company.state.rewind()
    assert {name: value for name, value in vars(company.state).items() if isinstance(value, dict)} == before
    assert (company.state.number, company.state.head) == (number, head)
