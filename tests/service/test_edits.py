"""Edits past the service: each deciding column is written in SQLite, found by verification and named; and none of
them lets anything be approved.
"""

from __future__ import annotations

import json
from contextlib import contextmanager
from datetime import timedelta

import pytest
from django.contrib.auth.hashers import make_password
from django.db import connection, transaction
from django.test import Client

from tallshelf.core.errors import LedgerBroken, ShelfError
from tallshelf.run.scenario import player
from tallshelf.run.scenario.people import PASSWORD
from tallshelf.run.scenario.player import actor, agree
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.ledger import keys, memory
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people import actions as people
from tallshelf.service.people.models import ConsoleSession, Person
from tallshelf.service.review import actions as review
from tallshelf.service.review.models import Request
from tallshelf.service.verifying import verify
from tests.service.conftest import altered, submission, work

SLUG = "berth-planner"
STRICTER = '[levels]\nvague-name = "error"\n'
EDITS = [
    # table, what is set (SQL), which row, the words that name it
    ("people_team", "title = 'x'", "slug = 'berths'", "team berths: title"),
    ("people_person", "role = 'curator'", "username = 'tomas'", "account tomas: role"),
    ("people_person", "is_active = 0", "username = 'runa'", "account runa: active"),
    ("people_person", "password = 'x'", "username = 'runa'", "account runa: password"),
    ("people_person", "username = 'other'", "username = 'edda'", "account edda is gone"),
    (
        "people_person_teams",
        "team_id = 2",
        "person_id = (SELECT id FROM people_person WHERE username = 'tomas')",
        "teams",
    ),
    ("people_desk", "owner_team_excluded = 0", "slug = 'security'", "desk security: owner_team_excluded"),
    (
        "people_desk",
        "lead_id = (SELECT id FROM people_person WHERE username = 'edda')",
        "slug = 'security'",
        "lead",
    ),
    ("people_deskseat", "since = '2020-01-01 00:00:00'", "1", "seat"),
    (
        "people_deskseat",
        "person_id = (SELECT id FROM people_person WHERE username = 'tomas')",
        "id = 1",
        "seat",
    ),
    (
        "people_deputy",
        "deputy_id = (SELECT id FROM people_person WHERE username = 'tomas')",
        "1",
        "deputy 1: deputy",
    ),
    ("people_deputy", "since = '2020-01-01 00:00:00'", "1", "deputy 1: since"),
    ("people_deputy", "until = '2099-01-01 00:00:00'", "1", "deputy 1: until"),
    ("people_deputy", "ended_at = '2020-01-01 00:00:00'", "1", "deputy 1: ended"),
    ("people_token", 'scopes = \'["read", "sign"]\'', "1", "token 1: scopes"),
    ("people_token", "expires_at = '2099-01-01 00:00:00'", "1", "token 1: expires_at"),
    (
        "people_token",
        "person_id = (SELECT id FROM people_person WHERE username = 'ines')",
        "1",
        "token 1: owner",
    ),
    ("people_token", "hash = 'x'", "1", "token 1: hash"),
    ("people_token", "ended_at = '2020-01-01 00:00:00'", "1", "token 1: ended"),
    ("catalog_server", "data_class = 'public'", "1", "server berth-planner: data_class"),
    ("catalog_server", "team_id = 2", "1", "server berth-planner: team"),
    ("catalog_server", "current_id = NULL", "1", "server berth-planner: current"),
    ("catalog_release", "state = 'withdrawn'", "version = '1.4.1'", "release berth-planner 1.4.1: state"),
    ("catalog_release", "digest = 'sha256:x'", "version = '1.4.1'", "release berth-planner 1.4.1: digest"),
    (
        "catalog_release",
        "launch = '[]'",
        "version = '1.4.1'",
        "launch records of berth-planner@1.4.1 are not",
    ),
    (
        "catalog_release",
        "launch = '[{\"x\": 1}]'",
        "version = '1.4.1'",
        "launch records of berth-planner@1.4.1 cannot",
    ),
    ("catalog_release", "version = '1.4.9'", "version = '1.4.1'", "release berth-planner 1.4.1 is gone"),
    ("catalog_storeditem", 'body = \'{"name": "book_berth"}\'', "name = 'book_berth'", "bytes of item"),
    ("catalog_storeditem", "kind = 'prompt'", "name = 'book_berth'", "of another kind"),
    (
        "catalog_storeditem",
        "purged_at = '2020-01-01 00:00:00'",
        "name = 'book_berth'",
        "was purged|were purged",
    ),
    ("catalog_storedsnapshot", "server = '{}'", "1", "bytes of snapshot"),
    ("catalog_storedsnapshot", "lists = '{\"tools\": []}'", "1", "bytes of snapshot"),
    (
        "catalog_suspension",
        "lifted_at = '2020-01-01 00:00:00'",
        "1",
        "suspension berth-planner tool:book_berth is gone",
    ),
    ("catalog_suspension", "item = ''", "1", "suspension"),
    ("catalog_storedstyle", "text = 'name = \"x\"'", "1", "version of the house style 1: text"),
    ("catalog_storedstyle", "digest = 'sha256:x'", "1", "version of the house style 1: named"),
    ("catalog_storedstyle", "state = 'declined'", "1", "house style 1: state|style: version"),
    ("catalog_storedwaiver", "state = 'granted'", "state = 'asked'", "waiver 2: state"),
    ("catalog_storedwaiver", "rule = 'x'", "state = 'granted'", "waiver 1: rule"),
    ("catalog_storedwaiver", "item = 'x'", "state = 'granted'", "waiver 1: item"),
    ("catalog_storedwaiver", "pointer = '/x'", "state = 'granted'", "waiver 1: pointer"),
    ("catalog_storedwaiver", "until = '2099-01-01 00:00:00'", "state = 'granted'", "waiver 1: until"),
    ("catalog_storedwaiver", "fingerprints = '[\"x\"]'", "state = 'granted'", "waiver 1: fingerprints"),
    ("catalog_storedknown", "state = 'declined'", "1", "proposal about known findings 1: state"),
    ("catalog_knownfinding", "fingerprint = 'x'", "id = 1", "known findings of berth-planner"),
    ("review_storedruleset", "rules = '[]'", "1", "routing rules 1: rules"),
    ("review_storedruleset", "digest = 'sha256:x'", "1", "routing rules 1: digest"),
    ("review_storedruleset", "state = 'declined'", "1", "routing rules 1: state"),
    (
        "review_storedassessment",
        "document = json_set(document, '$.facts.errors', 99)",
        "1",
        "assessment sha256",
    ),
    (
        "review_storedassessment",
        "document = json_set(document, '$.inputs.style', 'x')",
        "1",
        "assessment sha256",
    ),
    (
        "review_storedassessment",
        "document = json_set(document, '$.gates', json('[]'))",
        "json_array_length(document, '$.gates')",
        "gates",
    ),
    (
        "review_storedassessment",
        "document = json_set(document, '$.base', 'first')",
        "document ->> '$.base' <> 'first'",
        "base",
    ),
    ("review_request", "state = 'agreed'", "state = 'open'", "request 2: state"),
    ("review_request", 'route = \'{"steps": [], "approved_by": "x"}\'', "1", "request 1: route"),
    ("review_request", "opened_at = '2099-01-01 00:00:00'", "1", "request 1: opened_at"),
    ("review_request", "release_digest = 'sha256:x'", "1", "request 1: release_digest"),
    ("review_request", 'terms = \'{"reason": "x"}\'', "1", "request 1: terms"),
    ("review_request", "kind = 'withdraw'", "id = 1", "request 1: kind"),
    (
        "review_request",
        "assessment_id = (SELECT assessment_id FROM review_request WHERE id = 1)",
        "id = 2",
        "request 2: assessment",
    ),
    ("review_signoff", "voided_at = '2020-01-01 00:00:00'", "1", "sign-off 1 1: voided"),
    ("review_signoff", "answer = 'decline'", "1", "sign-off 1 1: answer"),
    ("review_signoff", "desk = 'security'", "id = 1", "sign-off 1 1: desk"),
    (
        "review_signoff",
        "person_id = (SELECT id FROM people_person WHERE username = 'edda')",
        "id = 1",
        "sign-off 1 1: by",
    ),
    (
        "review_signoff",
        "deputy_for_id = (SELECT id FROM people_person WHERE username = 'edda')",
        "id = 1",
        "deputy_for",
    ),
    ("review_signoff", "release_digest = 'x'", "1", "sign-off 1 1: release_digest"),
    ("review_signoff", "assessment_digest = 'x'", "1", "sign-off 1 1: assessment"),
    ("review_signoff", "rule_set = 9", "1", "sign-off 1 1: rule_set"),
    (
        "review_signoff",
        'despite = \'[{"gate": "undecided", "reason": "r"}]\'',
        "id = 1",
        "sign-off 1 1: despite",
    ),
    ("review_comment", "settled_at = NULL", "id = 1", "comment 1: settled"),
    ("review_comment", "text = 'x'", "1", "comment 1: text"),
    ("review_comment", "kind = 'remark'", "1", "comment 1: kind"),
    ("review_followup", "text = 'x'", "1", "follow-up 1: text"),
    ("review_followup", "due = '2099-01-01'", "1", "follow-up 1: due"),
    ("review_followup", "closed_at = '2020-01-01 00:00:00'", "1", "follow-up 1: closed"),
]


@pytest.fixture
def busy(published):
    """A company in which every deciding table has rows."""
    published("1.4.1")
    people.make_token(actor("runa"), "t", ["read"], 9)
    people.name_deputy(actor("kari"), "edda", clock.now() + timedelta(days=9))
    catalog.apply_style(actor("ines"), STRICTER, "stricter")
    style = catalog.propose_known(actor("ines"), SLUG, "as of today")
    catalog.answer_known(actor("oskar"), style.pk, "agree")
    body = altered(submission("1.4.2"), "Lists.")
    writing = {"name": "swap_berths", "description": "Swap two berths.", "inputSchema": {"type": "object"}}
    body["snapshot"]["tools"].append({**writing, "annotations": {"readOnlyHint": False}})
    one = review.read_submission(actor("tomas"), body["snapshot"], "1.4.2", body["launch"])
    request = review.submit(actor("tomas"), SLUG, one)[0]
    findings = request.assessment.document["findings"]
    places = list(dict.fromkeys((one["rule"], one["item"]) for one in findings))
    until = clock.now() + timedelta(days=30)
    for rule, item in places[:2]:
        review.ask_waiver(actor("tomas"), SLUG, rule, item, "r", until)
    review.answer_waiver(actor("ines"), 1, "grant")
    work()
    catalog.suspend(actor("ines"), SLUG, "r", "tool:book_berth")
    review.comment(actor("oskar"), request.pk, "Is it?", kind="question")
    return request


@pytest.fixture
def conditioned(busy):
    """The same, and an answer to the open request under a condition."""
    review.answer_comment(actor("tomas"), busy.pk, 1, "It is.")
    busy.refresh_from_db()
    due = (clock.now() + timedelta(days=5)).date()
    condition = {"text": "Bound the notes.", "owner": "tomas", "due": due}
    player.sign("oskar", busy, "agree", conditions=[condition])
    review.comment(actor("ines"), busy.pk, "And how?", kind="question")
    return busy


def write(table: str, change: str, where: str) -> None:
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA foreign_keys = off")
        cursor.execute(f"UPDATE OR REPLACE {table} SET {change} WHERE {where}")
        assert cursor.rowcount > 0, "the edit must edit something"


@contextmanager
def undone():
    """Take back whatever is done inside."""
    with transaction.atomic():
        yield
        transaction.set_rollback(True)


def test_an_edit_of_a_deciding_column_is_found_and_named(conditioned):
    assert verify().holds, verify()
    missed = []
    for table, change, where, words in EDITS:
        with undone():
            write(table, change, where)
            found = verify()
        named = any(one in said for one in words.split("|") for said in found.differences)
        if found.holds or found.chain.fault or not named:
            missed.append((table, change, found))
    assert not missed and verify().holds


def test_a_row_that_is_taken_out_is_found(conditioned):
    missed = []
    for table in sorted({edit[0] for edit in EDITS} - {"people_person_teams"}):
        with undone(), connection.cursor() as cursor:
            cursor.execute("PRAGMA defer_foreign_keys = on")
            cursor.execute(f"DELETE FROM {table} WHERE rowid = (SELECT max(rowid) FROM {table})")
            missed += [] if verify().differences else [table]
    assert not missed


def test_a_state_written_into_sqlite_publishes_nothing(busy):
    """16.4: the request says that it is agreed, and nobody signed."""
    Request.objects.filter(pk=busy.pk).update(state="agreed", moved=[])
    with pytest.raises(ShelfError, match="is open, not agreed"):
        review.publish(actor("tomas"), busy.pk)
    assert not Entry.objects.filter(event="release-published", body__contains='"version":"1.4.2"').exists()


def test_no_edit_has_anything_approved(conditioned):
    """After whatever edit, the open request is not published without the sign-off that it lacks."""
    for table, change, where, _ in EDITS:
        with undone():
            write(table, change, where)
            Request.objects.filter(pk=conditioned.pk).update(state="agreed")
            with pytest.raises(Exception), transaction.atomic():  # noqa: B017 - whatever it is refused by
                review.publish(actor("tomas"), conditioned.pk)
            assert Entry.objects.filter(event="release-published").count() == 1, (table, change)


def test_an_entry_is_neither_replaced_nor_appended_by_who_writes_sqlite(busy):
    last = Entry.objects.order_by("-number").values().first()
    with connection.cursor() as cursor:
        names = ", ".join(last)
        marks = ", ".join(["%s"] * len(last))
        forged = {**last, "actor": "ines", "mac": "0" * 64}
        with pytest.raises(Exception, match="append-only"):
            cursor.execute(
                f"INSERT OR REPLACE INTO ledger_entry ({names}) VALUES ({marks})", list(forged.values())
            )
    from tallshelf.core.ledger import entry_hash

    row = {**last, "number": last["number"] + 1, "previous": last["hash"], "actor": "runa"}
    row["hash"] = entry_hash({**row, "subjects": json.loads(row["subjects"])})
    Entry.objects.create(**row)
    assert "MAC is wrong" in verify().chain.fault
    with pytest.raises(LedgerBroken, match="MAC is wrong"), memory.told():
        pass
    with pytest.raises(LedgerBroken):
        catalog.suspend(actor("ines"), SLUG, "r")


def test_without_its_key_file_nothing_is_decided(busy, settings, tmp_path):
    import dataclasses

    settings.CONFIG = dataclasses.replace(settings.CONFIG, data=tmp_path)
    with pytest.raises(LedgerBroken, match=keys.MAC_FILE):
        catalog.suspend(actor("ines"), SLUG, "r")
    assert not (tmp_path / keys.MAC_FILE).exists(), "no other key is made in its place"


def test_a_password_or_session_written_into_sqlite_signs_nobody_in(company):
    def sign_in(username: str, password: str) -> int:
        body = {"username": username, "password": password}
        return Client().post("/api/v1/session", body, "application/json").status_code

    assert sign_in("edda", PASSWORD) == 200
    Person.objects.filter(username="ines").update(password=make_password("mine-to-choose-77"))
    assert sign_in("ines", "mine-to-choose-77") == 401
    # A session of edda's is given to another user name, by its row and by the account's name.
    browser = Client()
    body = {"username": "runa", "password": PASSWORD}
    assert browser.post("/api/v1/session", body, "application/json").status_code == 200
    assert browser.get("/api/v1/tokens").status_code == 200
    Person.objects.filter(username="kari").update(username="kari-two")
    Person.objects.filter(username="runa").update(username="kari")
    assert browser.get("/api/v1/tokens").status_code == 401
    assert not ConsoleSession.objects.filter(person__username="kari").exists()


def test_a_token_written_into_sqlite_does_nothing(api, submitted):
    request = submitted()
    mine = people.make_token(actor("edda"), "mine", ["read", "sign"], 9)[1]
    theirs = people.make_token(actor("ines"), "theirs", ["read", "sign"], 9)[0]
    write("people_token", f"hash = '{people.hash_of(mine)}x'", "name = 'mine'")
    write("people_token", f"hash = '{people.hash_of(mine)}'", f"id = {theirs.pk}")
    body = {"answer": "send-back", "note": "n", "release_digest": request.release_digest}
    body["assessment_digest"] = request.assessment_id
    answer = Client().post(
        f"/api/v1/requests/{request.pk}/sign-offs",
        body,
        "application/json",
        headers={"Authorization": f"Bearer {mine}"},
    )
    assert answer.status_code == 401


def test_bytes_changed_between_the_last_sign_off_and_publishing_are_not_published(submitted):
    request = agree(submitted())
    write("catalog_storeditem", "body = replace(body, 'berth', 'quay')", "name = 'book_berth'")
    with pytest.raises(ShelfError):
        review.publish(actor("tomas"), request.pk)
    assert not Entry.objects.filter(event="release-published").exists()


def test_launch_records_written_into_sqlite_are_not_published(submitted):
    request = agree(submitted())
    launch = json.dumps([{**submission()["launch"][0], "command": "other"}])
    with connection.cursor() as cursor:
        cursor.execute("UPDATE catalog_release SET launch = %s", [launch])
    with pytest.raises(ShelfError, match="bytes of"):
        review.publish(actor("tomas"), request.pk)
