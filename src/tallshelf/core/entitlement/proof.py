"""A proof of a publication: one document that says what was approved, by whom, and which bytes they are.

For who may read the ledger it also carries the whole chain up to a signed checkpoint: entries that can matter as they
are, all others by number, event, subjects and the digest of their content. From these an outsider with the public
key recomputes whether everybody was entitled to what they did.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.entitlement.records import LOCAL, MACHINE
from tallshelf.core.entitlement.replay import audit
from tallshelf.core.errors import BadDocument
from tallshelf.core.ledger import GENESIS, MEMBERS, entry_hash, key_id, read_signed, sealed_hash
from tallshelf.core.ledger.events import Event
from tallshelf.core.snapshot import canonical, parse_launches, release_digest, snapshot_from

PROOF_FORMAT = "tallshelf.proof/2"
ALWAYS = frozenset(
    {
        Event.TEAM_ADDED,
        Event.PERSON_ADDED,
        Event.PERSON_CHANGED,
        Event.DESK_ADDED,
        Event.DESK_JOINED,
        Event.DESK_LEFT,
        Event.DESK_LED,
        Event.DEPUTY_NAMED,
        Event.DEPUTY_ENDED,
        Event.TOKEN_MADE,
        Event.TOKEN_ENDED,
        Event.RULES_PROPOSED,
        Event.RULES_CHANGED,
        Event.RULES_DECLINED,
        Event.STYLE_PROPOSED,
        Event.STYLE_IN_FORCE,
        Event.STYLE_DECLINED,
        Event.CHAIN_KEYED,
        Event.RESTORED,
        Event.TABLES_TAKEN,
    }
)
"""The events that can matter to every release: who is who, and by which rules."""


def matters(row: Mapping[str, Any], server: str) -> bool:
    """Whether what an entry says can matter to a release of a server. Older entries always are shown whole."""
    return row["subjects"] is None or row["event"] in ALWAYS or server in row["subjects"]


def sealed(row: Mapping[str, Any], content: str) -> list[Any]:
    """Return an entry of which a proof shows only that it is there: event, subjects, digest of its content."""
    return [row["event"], row["subjects"], content]


class Proved(Struct, frozen=True):
    """What a proof was found to show; ``faults`` say what does not hold.

    ``entitled`` says whether everybody was entitled to what they did; None where the proof does not show it.
    ``machine`` lists what was done by commands on the service's own machine, which no person answers for.
    """

    release: str
    state: str
    published_at: str
    agreed: tuple[tuple[str, str, str], ...]
    despite: tuple[tuple[str, str, str], ...]
    head: int
    at: str
    key: str
    own_key: bool
    faults: tuple[str, ...]
    entitled: bool | None
    machine: tuple[str, ...]


def verify_proof(document: Mapping[str, Any], *, key: str | None = None) -> Proved:
    """Verify a proof by its own words and a public key, without the service.

    The snapshot's bytes give the snapshot digest; with server, version and launch records they give the
    release digest; the ledger's entries about it hold, and name these digests; the sign-offs that it was
    published by are among them; and the service signed that these entries stand in the chain up to a head. Where the
    chain is shown, it leads to that head, and each act in it that can matter was somebody's to do. ``key`` is a public
    key kept elsewhere, in place of the document's. Raises `BadDocument` when it is no proof, or not signed.
    """
    if document.get("format") != PROOF_FORMAT:
        raise BadDocument("this is no proof of a publication, or one of before tallshelf.proof/2")
    try:
        return _verify(document, key)
    except (KeyError, TypeError, AttributeError, IndexError, ValueError) as fault:
        raise BadDocument(f"the proof lacks something: {fault}") from None


def _verify(document: Mapping[str, Any], key: str | None) -> Proved:
    used = key or str(document["key"])
    signed = read_signed(str(document["signed"]), used)
    release = document["release"]
    entries = [_as_row(entry) for entry in document["entries"]]
    published = next(
        (
            entry
            for entry in document["entries"]
            if entry["event"] in ("release-published", "release-adopted")
        ),
        None,
    )
    agreed = _agreed(document["entries"], published)
    faults = [
        *_bytes(document, release),
        *_stand(entries, signed),
        *_words(release, published, signed),
    ]
    entitled, machine = None, tuple[str, ...]()
    if document.get("chain") is not None:
        rows = list(_rows(document["chain"]))
        wrong = [*_leads(rows, entries, signed), *_judged(rows, release)]
        faults += wrong
        entitled = not wrong
        machine = tuple(
            " ".join([f"{row['number']}: {row['event']}", *row["subjects"]])
            for row in rows
            if row["body"] is not None and (row["actor"], row["via"]) == (MACHINE, LOCAL)
        )
    return Proved(
        release=f"{release['server']}@{release['version']}",
        state=str(release["state"]),
        published_at=str(published["at"]) if published else "",
        agreed=tuple((one["actor"], one["body"]["desk"], one["at"]) for one in agreed),
        despite=tuple(
            (one["actor"], each["gate"], each["reason"])
            for one in agreed
            for each in one["body"].get("despite", ())
        ),
        head=int(signed["number"]),
        at=str(signed["at"]),
        key=key_id(used),
        own_key=key is None,
        faults=tuple(faults),
        entitled=entitled,
        machine=machine,
    )


def _agreed(
    entries: Iterable[Mapping[str, Any]], published: Mapping[str, Any] | None
) -> list[Mapping[str, Any]]:
    """Return the agreements that a release was published by: those given since the sign-offs were void last."""
    counting: list[Mapping[str, Any]] = []
    request = published["body"].get("request") if published is not None else None
    for entry in entries:
        body = entry["body"]
        if published is None or entry["number"] > published["number"] or body.get("request") != request:
            continue
        if entry["event"] == "signed-off":
            counting = [*counting, entry] if body["answer"] == "agree" else []
        elif entry["event"] in ("release-submitted", "snapshot-replaced") or (
            entry["event"] == "reassessed" and body.get("differs", True)
        ):
            counting = []
    return counting


def _as_row(entry: Mapping[str, Any]) -> dict[str, Any]:
    return {**entry, "body": canonical(entry["body"]).decode("utf-8")}


def _bytes(document: Mapping[str, Any], release: Mapping[str, Any]) -> Iterator[str]:
    snapshot = snapshot_from(document["snapshot"])
    if snapshot.digest != release["snapshot_digest"]:
        yield "the bytes are not those of the snapshot digest"
    launches = parse_launches(release["launch"])
    whole = release_digest(
        release["server"],
        release["version"],
        snapshot.digest,
        launches,
        breaking=release.get("breaking", False),
    )
    if whole != release["digest"]:
        yield "server, version, bytes and launch records do not give the release digest"


def _stand(entries: list[dict[str, Any]], signed: Mapping[str, Any]) -> Iterator[str]:
    for entry in entries:
        if not set(MEMBERS) <= entry.keys() or entry_hash(entry) != entry["hash"]:
            yield f"entry {entry['number']} was edited"
    hashes = {str(entry["number"]): entry["hash"] for entry in entries}
    if hashes != signed["entries"]:
        yield "the signature is over other entries"


def _words(
    release: Mapping[str, Any], published: Mapping[str, Any] | None, signed: Mapping[str, Any]
) -> Iterator[str]:
    if signed["release_digest"] != release["digest"] or signed["state"] != release["state"]:
        yield "the signature is over another release, or another state of it"
    if published is None:
        yield "no entry says that it was published"
        return
    about = published["body"]
    if (about["server"], about["version"], about["release_digest"], about["snapshot_digest"]) != (
        release["server"],
        release["version"],
        release["digest"],
        release["snapshot_digest"],
    ):
        yield "it was published as something else"


def _rows(chain: Iterable[Any]) -> Iterator[dict[str, Any]]:
    """Yield the whole chain as rows, each hashed onto the one before; of a sealed one the body is None."""
    previous = GENESIS
    for number, one in enumerate(chain, 1):
        if isinstance(one, list):
            event, subjects, content = one
            row = {"number": number, "event": event, "subjects": subjects, "body": None}
            row |= {"at": "", "actor": "", "via": "", "previous": previous}
            row["hash"] = sealed_hash(number, event, subjects, content, previous)
        else:
            row = {**_as_row(one), "number": number, "previous": previous}
            row["hash"] = entry_hash(row)
        previous = row["hash"]
        yield row


def _leads(
    rows: list[dict[str, Any]], entries: list[dict[str, Any]], signed: Mapping[str, Any]
) -> Iterator[str]:
    head = rows[-1]["hash"] if rows else GENESIS
    if (len(rows), head) != (signed["number"], signed["hash"]):
        yield "the chain does not lead to the checkpoint that was signed"
    if any(
        rows[entry["number"] - 1]["hash"] != entry["hash"]
        for entry in entries
        if entry["number"] <= len(rows)
    ):
        yield "the chain is not that of the entries about the release"


def _judged(rows: list[dict[str, Any]], release: Mapping[str, Any]) -> Iterator[str]:
    server = release["server"]
    if any(row["body"] is None and matters(row, server) for row in rows):
        yield "an entry that can matter is not shown"
    found = audit(rows)
    yield from (f"entry {number}, {why}" for number, why in (*found.refused, *found.unreadable))
    told = found.state.releases.get((server, release["version"]))
    if told is None or (told.state, told.digest) != (release["state"], release["digest"]):
        yield f"by the chain it is {told.state if told else 'not there'}, not {release['state']}"
