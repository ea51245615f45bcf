"""Notes of users on releases: left by anybody, answered by the owners, shown where releases are found."""

from __future__ import annotations

import pytest

from tallshelf.core.errors import Conflict, Denied, NotFound
from tallshelf.run.scenario import history
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog.actions.notes import MOST_OF_ONE
from tallshelf.service.catalog.models import UserNote
from tallshelf.service.ledger.models import Entry
from tallshelf.service.purging import purge
from tallshelf.service.telling.models import Notice
from tallshelf.service.verifying import verify
from tests.service.conftest import submission

NOTES = "servers/berth-planner/releases/current/notes"


def test_a_note_is_left_answered_shown_and_removed(published, api):
    published("1.4.1")
    edda, tomas = api("edda"), api("tomas")
    status, page = edda.post(NOTES, {"text": " Works for\nferries. "})
    assert status == 200 and page["may_leave"]
    (note,) = page["results"]
    assert (note["text"], note["may_remove"], note["may_answer"]) == ("Works for ferries.", True, False)
    assert len(edda.post(NOTES, {"text": "Works for ferries."})[1]["results"]) == 1
    told = Notice.objects.get(person__username="tomas", type="release.note")
    assert told.because == "your team owns berth-planner" and told.page == "/servers/berth-planner/1.4.1"
    answer = f"user-notes/{note['number']}/answer"
    assert edda.post(answer, {"text": "x"})[0] == 403
    assert tomas.post(answer, {"text": "And for tugs."})[1]["answer"] == "And for tugs."
    assert Notice.objects.get(person__username="edda", type="release.note-answered").because == "you left it"
    hits = api("runa").get("find?q=free+berth")[1]["results"]
    own = [one for one in hits if one["server"] == "berth-planner"]
    assert own and all(one["notes"][0]["text"] == "Works for ferries." for one in own)
    assert api("jonas").call("DELETE", f"user-notes/{note['number']}")[0] == 403
    assert edda.call("DELETE", f"user-notes/{note['number']}")[0] == 204
    assert edda.get(NOTES)[1]["results"] == [] and UserNote.objects.get().text == ""
    assert tomas.post(answer, {"text": "x"})[0] == 404
    assert (
        not any("ferries" in one for one in Entry.objects.values_list("body", flat=True)) and verify().holds
    )


def test_notes_are_for_releases_in_use_and_not_without_end(published, submitted):
    published("1.4.1")
    submitted("1.5.0")
    with pytest.raises(Conflict, match="in-review"):
        catalog.leave_note(history.actor("tomas"), "berth-planner", "1.5.0", "t")
    with pytest.raises(NotFound):
        catalog.leave_note(history.actor("edda"), "berth-planner", "1.5.0", "t")
    with pytest.raises(Denied):
        catalog.leave_note(history.actor("ci-berths"), "berth-planner", "1.4.1", "t")
    for number in range(MOST_OF_ONE):
        catalog.leave_note(history.actor("edda"), "berth-planner", "1.4.1", f"Note {number}.")
    with pytest.raises(Conflict, match="already"):
        catalog.leave_note(history.actor("edda"), "berth-planner", "1.4.1", "One more.")


def test_purging_takes_an_item_out_of_notes(published):
    published("1.4.1")
    tools = submission("1.4.1")["snapshot"]["tools"]
    text = next(one["description"] for one in tools if one["name"] == "find_free_berth")
    catalog.leave_note(history.actor("edda"), "berth-planner", "1.4.1", f"It says: {text}"[:500])
    purge(history.actor("pell"), "berth-planner", "1.4.1", "tool:find_free_berth", "It leaked.")
    assert "(purged)" in UserNote.objects.get().text and text not in UserNote.objects.get().text


def test_an_edit_of_who_left_a_note_is_found(published):
    published("1.4.1")
    catalog.leave_note(history.actor("edda"), "berth-planner", "1.4.1", "t")
    UserNote.objects.update(by_id=history.actor("jonas").id)
    assert "note 1: by" in " ".join(verify().differences)
