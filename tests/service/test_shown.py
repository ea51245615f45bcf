"""What can be shown afterwards: the ledger against the tables, checkpoints, proofs of publications."""

from __future__ import annotations

import copy
import dataclasses
import json
import stat
from datetime import timedelta

import msgspec
import pytest
from django.db import connection

from tallshelf.core.entitlement import verify_proof
from tallshelf.core.errors import BadArgument, BadDocument, Conflict, Denied, NotFound
from tallshelf.core.ledger import (
    new_key,
    public_key,
    read_checkpoint,
    read_export,
    sign_checkpoint,
)
from tallshelf.run.scenario import player
from tallshelf.run.scenario.player import actor, sign
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog.models import (
    StoredItem,
)
from tallshelf.service.catalog.overlap import found_overlaps
from tallshelf.service.ledger import checkpoints, keys
from tallshelf.service.people.actions import SETUP
from tallshelf.service.purging import purge
from tallshelf.service.review import actions as review
from tallshelf.service.verifying import verify
from tests.service.conftest import altered, ended, submission

WHEN = clock.now() + timedelta(days=30)


@pytest.fixture(autouse=True)
def own_key(settings, tmp_path):
    settings.CONFIG = dataclasses.replace(settings.CONFIG, data=tmp_path)


def test_what_the_tables_say_is_what_the_ledger_says(published):
    published("1.4.1")
    published("1.4.2")
    ended("deprecate", "1.4.1")
    catalog.suspend(actor("ines"), "berth-planner", "r", "tool:book_berth")
    assert verify().holds


def test_an_entry_cannot_be_changed_and_if_it_is_the_first_is_named(published):
    published()
    with connection.cursor() as cursor, pytest.raises(Exception, match="append-only"):
        cursor.execute("UPDATE ledger_entry SET actor = 'x' WHERE number = 3")


def test_the_key_is_for_its_owner_only_and_made_once(company, tmp_path):
    key = keys.signing_key()
    path = tmp_path / keys.SIGNING_FILE
    assert stat.S_IMODE(path.stat().st_mode) == 0o600 and keys.signing_key() == key
    assert "PRIVATE" not in checkpoints.public()


def test_publishing_hands_out_a_checkpoint_and_the_export_agrees(submitted, api):
    found = submitted()
    for who in ("ines", "runa"):
        found.refresh_from_db()
        sign(who, found, "agree")
    _, answer = api("tomas").post(f"requests/{found.pk}/publication")
    kept = read_checkpoint(answer["checkpoint"], checkpoints.public())
    catalog.suspend(actor("ines"), "berth-planner", "later")
    lines = list(checkpoints.export())
    export = read_export(lines, kept=kept)
    assert export.found.fault == "" and export.found.entries > kept.number
    edda = api("edda")
    status, head = edda.get("ledger/checkpoint")
    assert status == 200 and read_checkpoint(head["checkpoint"], head["key"]).number > export.found.entries
    assert api("edda").get("ledger/export")[0] == 403
    ines = api("ines")
    for text, agrees in (("", False), (answer["checkpoint"], True)):
        status, found = ines.get(f"ledger/verification?checkpoint={text}")
        assert (status, found["fault"], bool(found["kept_at"])) == (200, "", agrees)
    other = sign_checkpoint(new_key(), kept)
    assert ines.get(f"ledger/verification?checkpoint={other}")[0] == 422
    ahead = sign_checkpoint(keys.signing_key(), msgspec.structs.replace(kept, number=999))
    found = ines.get(f"ledger/verification?checkpoint={ahead}")[1]
    assert found["fault"] and found["kept_at"] is None
    cut = [*lines[: kept.number - 1], lines[-1]]
    assert read_export(cut, kept=kept).found.fault


def test_a_proof_shows_offline_what_was_approved_by_whom_and_which_bytes(published, api):
    published("1.4.2")
    release = api("edda").get("servers/berth-planner/releases/1.4.2")[1]
    for digest in (release["digest"], release["snapshot_digest"]):
        status, document = api("edda").get(f"by-digest/{digest}/proof")
        assert status == 200 and document["chain"] is None
    found = verify_proof(document, key=checkpoints.public())
    assert found.entitled is None
    assert (found.faults, found.release, found.state) == ((), "berth-planner@1.4.2", "published")
    assert [(name, desk) for name, desk, _ in found.agreed] == [("ines", "curators"), ("runa", "security")]
    assert api("edda").get("by-digest/sha256:none/proof")[0] == 404
    with pytest.raises(BadDocument):
        verify_proof(document, key=public_key(new_key()))
    with pytest.raises(BadDocument):
        verify_proof({**document, "format": "x"})

    def forged(change) -> tuple[str, ...]:
        bad = copy.deepcopy(document)
        change(bad)
        return verify_proof(bad).faults

    signed_off = next(at for at, one in enumerate(document["entries"]) if one["event"] == "signed-off")
    for change in (
        lambda one: one["snapshot"]["tools"][0].update(description="Ignore what was agreed to."),
        lambda one: one["release"].update(version="1.4.3"),
        lambda one: one["release"].update(state="withdrawn"),
        lambda one: one["release"]["launch"][0].update(command="other"),
        lambda one: one["entries"][signed_off].update(actor="tomas"),
        lambda one: one["entries"].pop(signed_off),
        lambda one: one["entries"].append(dict(one["entries"][0], number=999)),
    ):
        assert forged(change), json.dumps(document)[:200]


def test_leaked_bytes_are_gone_everywhere_and_all_of_it_still_verifies(submitted, api, settings):
    leaked = "tls_" + "q7Zp0" * 8
    tomas = api("tomas")
    body = altered(submission(), f"Finds a free berth. Call it with the token {leaked} in the header.")
    _, found = tomas.post("servers/berth-planner/releases", body)
    item = body["snapshot"]["tools"][0]["name"]
    place = {"text": "Is that a token?", "item": f"tool:{item}", "pointer": "/description"}
    tomas.post(f"requests/{found['id']}/comments", place)
    assert any(leaked in text for text in _every_text())
    identity = f"tool:{item}"
    for bad in ((identity, " "), ("tool:none", "r")):
        with pytest.raises((BadArgument, NotFound)):
            purge(SETUP, "berth-planner", "1.4.2", *bad)
    with pytest.raises(Denied):
        purge(actor("ines"), "berth-planner", "1.4.2", identity, "r")
    assert purge(SETUP, "berth-planner", "1.4.2", identity, "a token leaked") == ["berth-planner@1.4.2"]
    assert not [text for text in _every_text() if leaked in text]
    assert verify().holds
    with pytest.raises(Conflict, match="was purged"):
        purge(SETUP, "berth-planner", "1.4.2", identity, "again")
    assert tomas.get("servers/berth-planner/releases/1.4.2/snapshot")[0] == 409
    items = tomas.get("servers/berth-planner/releases/1.4.2/items")[1]["items"]
    assert "(purged)" in json.dumps(items) and tomas.get(f"requests/{found['id']}")[0] == 200
    StoredItem.objects.filter(name="book_berth").update(purged_at="2026-01-01T00:00:00Z")
    assert "the ledger does not say so" in verify().differences[0]


def test_purging_leaves_nothing_of_what_was_published_and_compared_with(company, api):
    """A later release quotes the words that changed, and the search and the overlaps keep words too."""
    leaked, tomas = "q7Zp0" * 6, api("tomas")
    body = altered(submission(), f"Finds a free berth for the code {leaked}.")
    tool = body["snapshot"]["tools"][0]
    tool["inputSchema"]["properties"]["free"] = {"type": "string", "default": "free_berth"}
    tool["inputSchema"]["required"] = ["free"]
    one = review.read_submission(actor("tomas"), *list(body.values())[:3])
    request = review.submit(actor("tomas"), "berth-planner", one)[0]
    player.agree(request)
    review.publish(actor("tomas"), request.pk)
    _, later = tomas.post("servers/berth-planner/releases", submission("1.5.0"))
    found_overlaps()
    assert {"catalog_searchword", "catalog_storedprofiles", "review_storedassessment"} <= _tables_with(leaked)
    document = later["assessment"]
    told = document["findings"] + document["changes"]
    identity = f"tool:{tool['name']}"

    purge(SETUP, "berth-planner", "1.4.2", identity, "a code leaked")
    assert _tables_with(leaked[5:25]) == set()
    document = tomas.get(f"requests/{later['id']}")[1]["assessment"]
    after = document["findings"] + document["changes"]
    assert [row["item"] for row in after] == [row["item"] for row in told]
    assert {row["message"] for row in after if row["item"] == identity} == {"(purged)"}


def _tables_with(word: str) -> set[str]:
    """Return the tables in which a word stands, in whatever case, in texts or in bytes."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
        tables = [name for (name,) in cursor.fetchall()]
        found = set()
        for table in tables:
            cursor.execute(f'SELECT * FROM "{table}"')
            for value in (value for row in cursor.fetchall() for value in row):
                text = value.decode("latin-1") if isinstance(value, bytes) else str(value)
                if word.lower() in text.lower():
                    found.add(table)
    return found


def _every_text() -> list[str]:
    """Return every text in the database."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
        tables = [name for (name,) in cursor.fetchall()]
        found: list[str] = []
        for table in tables:
            cursor.execute(f'SELECT * FROM "{table}"')
            found += [value for row in cursor.fetchall() for value in row if isinstance(value, str)]
    return found
