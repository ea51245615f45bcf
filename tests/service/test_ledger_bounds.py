"""What the service keeps of the ledger in memory follows the entries that stand; what came to nothing is taken back."""

from __future__ import annotations

from dataclasses import replace

import pytest
from django.db import transaction

from tallshelf.core.entitlement import State
from tallshelf.core.entitlement.records import Person
from tallshelf.run.scenario.player import actor
from tallshelf.service.ledger import keys, memory
from tallshelf.service.ledger.actions import _subjects
from tallshelf.service.ledger.judging import refusal_to_waive
from tallshelf.service.ledger.models import Entry
from tallshelf.service.ledger.queries import about_release
from tallshelf.service.people import accounts
from tests.service.conftest import Api, ended


def number() -> int:
    with memory.told() as state:
        return state.number


def test_what_is_rolled_back_is_taken_back_and_what_stands_stays(company):
    before = number()
    assert before == Entry.objects.count()
    with pytest.raises(RuntimeError), transaction.atomic():
        accounts.change_account(actor("pell"), "edda", {"teams": ["crew"]})
        with memory.told() as state:
            assert state.number == before + 1 and "crew" in state.people["edda"].teams
        raise RuntimeError
    with memory.told() as state:
        assert state.number == before and "crew" not in state.people["edda"].teams
        kept = state
    accounts.change_account(actor("pell"), "edda", {"teams": ["crew"]})
    with memory.told() as state:
        assert state is kept and state.number == before + 1 and "crew" in state.people["edda"].teams


def test_what_is_remembered_of_entries_that_do_not_stand_is_forgotten(company):
    before = number()
    with memory.told() as state:
        state.begin(before + 1, "an entry that was never written")
    with memory.told() as again:
        assert again is state and again.number == before
    memory._states[0] = State(number=before + 5, head="of another ledger")
    with memory.told() as anew:
        assert anew.number == before and anew.head == Entry.objects.get(number=before).hash
        assert "edda" in anew.people
    memory._states[0] = State(
        number=before - 1, head="of another ledger", people={"nobody": Person("nobody", "", True)}
    )
    with memory.told() as anew:
        assert anew.number == before and "nobody" not in anew.people


def test_an_entry_is_about_all_that_it_names(company):
    kit = {"kit": "berth-planner", "team": "berths", "server": "quay"}
    assert {"kit:berth-planner", "berths", "quay"} <= set(_subjects(kit))
    assert "kit:" not in str(_subjects({"server": "quay"}))
    members = {"members": ["quay#tool:x", "tides#tool:y"]}
    assert {"quay", "tides"} <= set(_subjects(members))


def test_the_entries_about_a_release_are_its_own_and_its_requests(published):
    published("1.4.1")
    published("1.4.2")
    ended("deprecate", "1.4.1")
    by_version = about_release("berth-planner", "1.4.1", None)
    assert by_version and {row["body"].get("version") for row in by_version} == {"1.4.1"}
    by_request = about_release("berth-planner", "1.4.1", 1)
    assert {row["body"].get("request") for row in by_request if row["body"].get("version") != "1.4.1"} <= {1}
    assert "signed-off" in {row["event"] for row in by_request}
    assert len(by_request) > len(by_version)


def test_a_checkpoint_is_for_who_may_read(company):
    assert Api("edda", ("submit",)).get("ledger/checkpoint")[0] == 403
    assert Api("edda", ("read",)).get("ledger/checkpoint")[0] == 200


def test_a_waiver_that_the_ledger_does_not_tell_of_is_nobodys_to_grant(company):
    assert "does not tell" in str(refusal_to_waive(actor("ines"), 99))


def test_keys_are_made_where_there_is_no_directory_yet(db, settings, tmp_path):
    settings.CONFIG = replace(settings.CONFIG, data=tmp_path / "new" / "deep")
    assert keys.has_mac_key() is False
    made = keys.mac_key()
    assert keys.has_mac_key() is True and keys.mac_key() == made
    assert (tmp_path / "new" / "deep" / keys.MAC_FILE).stat().st_mode & 0o777 == 0o600
