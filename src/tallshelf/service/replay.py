"""Replaying the ledger against what the tables say: whatever the ledger does not tell is reported.

The chain shows that nobody changed what was written; this shows that nothing stands in the tables that
was never written.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from tallshelf.core.snapshot import parse_launches, release_digest
from tallshelf.service.catalog.models import Release, Server, StoredItem, StoredSnapshot, Suspension
from tallshelf.service.catalog.storage import load
from tallshelf.service.ledger.queries import all_entries
from tallshelf.service.people.models import Desk, DeskSeat, Person
from tallshelf.service.replay_decisions import Decided
from tallshelf.service.review.models import SignOff

_STATES = {
    "release-submitted": "in-review",
    "snapshot-replaced": "in-review",
    "request-taken-back": "draft",
    "release-declined": "declined",
    "release-published": "published",
    "release-adopted": "published",
    "release-deprecated": "deprecated",
    "release-withdrawn": "withdrawn",
}


@dataclass
class _Told:
    """What the ledger says should stand in the tables."""

    servers: dict[str, dict[str, str]] = field(default_factory=dict)
    releases: dict[tuple[str, str], dict[str, Any]] = field(default_factory=dict)
    sign_offs: Counter[tuple[Any, ...]] = field(default_factory=Counter)
    suspensions: set[tuple[str, str]] = field(default_factory=set)
    seats: set[tuple[str, str]] = field(default_factory=set)
    leads: dict[str, str] = field(default_factory=dict)
    people: dict[str, str] = field(default_factory=dict)
    purged: set[str] = field(default_factory=set)
    decided: Decided = field(default_factory=Decided)


def differences() -> list[str]:
    """Return in words where the tables say what the ledger does not, or otherwise, in a fixed order."""
    told = _told()
    return [
        *_people(told),
        *_servers(told),
        *_releases(told),
        *_bytes(told),
        *_sign_offs(told),
        *_suspensions(told),
        *told.decided.differences(),
    ]


def _told() -> _Told:
    told = _Told()
    for entry in all_entries():
        body = json.loads(entry["body"])
        _tell(told, entry["event"], body, entry["actor"])
        told.decided.tell(entry["event"], body)
    return told


def _tell(told: _Told, event: str, body: dict[str, Any], actor: str) -> None:
    if event in _STATES:
        _tell_release(told, event, body)
    elif event == "signed-off":
        digests = (body["release_digest"], body["assessment_digest"], body["rule_set"])
        told.sign_offs[body["request"], body["desk"], actor, body["answer"], *digests] += 1
    elif event == "server-enrolled":
        told.servers[body["server"]] = {"team": body["team"], "data_class": body["data_class"]}
    elif event in ("server-edited", "data-class-changed"):
        told.servers[body["server"]] |= {
            name: value for name, value in body["after"].items() if name == "data_class"
        }
    elif event == "suspended":
        told.suspensions.add((body["server"], body["item"]))
    elif event == "suspension-lifted":
        told.suspensions.discard((body["server"], body["item"]))
    elif event == "desk-joined":
        told.seats.add((body["desk"], body["username"]))
        told.leads.setdefault(body["desk"], body["username"])  # older ledgers say no more of leads
    elif event == "desk-left":
        told.seats.discard((body["desk"], body["username"]))
    elif event == "desk-led":
        told.leads[body["desk"]] = body["username"]
    elif event in ("person-added", "person-changed"):
        told.people[body["username"]] = body["role"]
    elif event == "item-purged":
        told.purged.add(body["digest"])


def _tell_release(told: _Told, event: str, body: dict[str, Any]) -> None:
    if event == "request-taken-back" and not body["version"]:
        return
    key = (body["server"], body["version"])
    found = told.releases.setdefault(key, {})
    if event == "request-taken-back" and found.get("state") != "in-review":
        return  # an act on a release that stays as it was
    found["state"] = _STATES[event]
    if "snapshot_digest" in body:
        found |= {"snapshot": body["snapshot_digest"], "digest": body["release_digest"]}


def _people(told: _Told) -> Iterator[str]:
    for username, role in Person.objects.order_by("username").values_list("username", "role"):
        if told.people.get(username) != role:
            yield f"{username} is a {role}, and the ledger says {told.people.get(username) or 'nothing'}"
    seats = set(DeskSeat.objects.values_list("desk__slug", "person__username"))
    for desk, username in sorted(seats - told.seats):
        yield f"{username} sits at the desk {desk}, and the ledger does not say so"
    for desk, username in sorted(told.seats - seats):
        yield f"{username} does not sit at the desk {desk} any more, and the ledger does not say why"
    for desk, lead in Desk.objects.order_by("slug").values_list("slug", "lead__username"):
        if (lead or "") != told.leads.get(desk, ""):
            yield f"{lead or 'nobody'} leads the desk {desk}, and the ledger says {told.leads.get(desk) or 'nobody'}"


def _servers(told: _Told) -> Iterator[str]:
    for slug, team, data_class in Server.objects.order_by("slug").values_list(
        "slug", "team__slug", "data_class"
    ):
        found = told.servers.get(slug)
        if found is None:
            adopted = any(server == slug for server, _ in told.releases)
            if not adopted:
                yield f"{slug} is in the catalog, and the ledger does not say so"
        elif (found["team"], found["data_class"]) != (team, data_class):
            said = f"{found['team']}'s and {found['data_class']}"
            yield f"{slug} is {team}'s and {data_class}, and the ledger says {said}"


def _releases(told: _Told) -> Iterator[str]:
    rows = Release.objects.select_related("server").order_by("server__slug", "pk")
    there = set()
    for one in rows:
        key = (one.server.slug, one.version)
        there.add(key)
        found = told.releases.get(key)
        if found is None:
            yield f"{one} is there, and the ledger does not say so"
            continue
        if found["state"] != one.state:
            yield f"{one} is {one.state}, and the ledger says {found['state']}"
        if (found.get("snapshot"), found.get("digest")) != (one.snapshot_id, one.digest):
            yield f"{one} holds other bytes than the ledger says"
        launches = parse_launches(one.launch)
        if release_digest(one.server.slug, one.version, one.snapshot_id, launches) != one.digest:
            yield f"the launch records of {one} are not those that its digest covers"
    for server, version in sorted(told.releases.keys() - there):
        yield f"{server}@{version} is gone, and the ledger does not say why"


def _bytes(told: _Told) -> Iterator[str]:
    """Yield what is wrong with stored bytes: each item and snapshot is what its digest says, or was purged."""
    purged = set(StoredItem.objects.exclude(purged_at=None).values_list("pk", flat=True))
    for digest in sorted(purged - told.purged):
        yield f"the bytes of item {digest[7:19]} were purged, and the ledger does not say so"
    for stored in StoredSnapshot.objects.order_by("pk"):
        if told.purged & {digest for digests in stored.lists.values() for digest in digests}:
            continue  # what is left of it is known by the digests of its items
        try:
            whole = load(stored).digest
        except (KeyError, ValueError):
            whole = ""
        if whole != stored.pk:
            releases = ", ".join(map(str, Release.objects.filter(snapshot=stored).select_related("server")))
            yield f"the bytes of snapshot {stored.pk[7:19]} ({releases or 'of no release'}) were changed"
    if not StoredItem.objects.exists() and StoredSnapshot.objects.exists():
        yield "the items of all snapshots are gone"


def _sign_offs(told: _Told) -> Iterator[str]:
    rows = SignOff.objects.select_related("person").order_by("pk")
    there = Counter(
        (
            one.request_id,
            one.desk,
            one.person.username,
            one.answer,
            one.release_digest,
            one.assessment_digest,
            one.rule_set,
        )
        for one in rows
    )
    for key in sorted(there - told.sign_offs):
        yield f"{key[2]}'s answer to request {key[0]} at {key[1]} ({key[3]}) is not in the ledger like that"
    for key in sorted(told.sign_offs - there):
        yield f"{key[2]}'s answer to request {key[0]} at {key[1]} ({key[3]}) is gone"


def _suspensions(told: _Told) -> Iterator[str]:
    rows = Suspension.objects.filter(lifted_at=None).values_list("server__slug", "item")
    standing = set(rows)
    for server, item in sorted(standing - told.suspensions):
        yield f"{item or server} of {server} is suspended, and the ledger does not say so"
    for server, item in sorted(told.suspensions - standing):
        yield f"the suspension of {item or 'all'} of {server} is lifted, and the ledger does not say so"
