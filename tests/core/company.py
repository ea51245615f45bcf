"""A company of ten in a ledger of entries alone, for the tests of the judge."""

from __future__ import annotations

from typing import Any

from tallshelf.core.assess import waivers_digest
from tallshelf.core.entitlement import State, advance, entitled
from tallshelf.core.entitlement.inputs import in_force_digest
from tallshelf.core.entitlement.judge import Refused
from tallshelf.core.entitlement.replay import read_entry
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import DEFAULT_RULES
from tallshelf.core.routing.route import rule_document
from tallshelf.core.snapshot import digest
from tests.core.facts import FACTS

RULES = [rule_document(rule) for rule in DEFAULT_RULES.rules]
NOW = "2026-06-01T06:00:00Z"
LATER, LATEST = "2026-07-01T06:00:00Z", "2026-09-01T06:00:00Z"

PERSON = {"username": "rosa", "role": "reader", "teams": [], "active": True}


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
        """Return what an entry says of an assessment of quay that rests on what is in force."""
        return self.assessed_of("quay", snapshot, **more)

    def assessed_of(self, slug: str, snapshot: str, **more: Any) -> dict[str, Any]:
        state, server = self.state, self.state.servers[slug]
        inputs = {
            "snapshot": snapshot,
            "server": digest([server.slug, server.team, server.data_class]),
            "rules": in_force_digest(state, "rules"),
            "style": in_force_digest(state, "style"),
            "waivers": waivers_digest(()),
            "known": digest(sorted(state.known.get(slug, ()))),
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
