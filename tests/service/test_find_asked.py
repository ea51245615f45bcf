"""What people ask for, in words of their own, finds what does it: a small catalog of six invented servers."""

from __future__ import annotations

import pytest
from django.utils import timezone

from tallshelf.service.catalog import search
from tallshelf.service.catalog.models import SearchEntry, SearchWord, Server
from tallshelf.service.catalog.search.company import with_company
from tallshelf.service.catalog.search.entries import Asked, entry
from tallshelf.service.catalog.search.index import keep_words
from tallshelf.service.catalog.search.ranking import fit, ranked
from tallshelf.service.people import actions as people

SERVERS = {
    "lantern-post": [
        ("send_letter", "Send a message to one or more recipients.", "to\nsubject\nbody"),
        ("list_letters", "List the messages of a folder, the newest first.", "folder\nlimit"),
        ("find_unread_letters", "Find the unread messages of a sender.", "sender"),
        ("trash_letter", "Move a message to the trash.", "letter_id"),
        ("set_absence_note", "Set what is answered while you are away on vacation.", "text\nuntil"),
        ("add_rule", "Add a rule by which arriving messages are sorted into folders.", "condition\nfolder"),
    ],
    "quayhub": [
        ("open_proposal", "Open a merge request for a branch.", "branch\ntitle"),
        ("list_proposals", "List merge requests with their state and approvals.", "repository"),
        ("create_repository", "Create a repository for a team.", "name"),
        ("get_file_tree", "Get the files of a repository.", "repository"),
        ("get_line_authors", "Get the author of each line of code of a file.", "path"),
    ],
    "harbourctl": [
        ("scale_workload", "Change how many replicas of a deployment run.", "name\nreplicas"),
        ("run_container", "Run a container from an image.", "image"),
        ("list_containers", "List the containers with their state: running, stopped, failed.", "all"),
        ("get_logs", "Get the last lines that a pod wrote.", "pod\nlines"),
    ],
    "kiteredb": [
        ("count_records", "Count the records that match a filter.", "collection\nfilter"),
        ("delete_records", "Delete the records that match a filter.", "collection\nfilter"),
        ("find_records", "Find records that match a filter; by default all records.", "collection\nfilter"),
        ("explain_query", "Explain how a query is carried out, and why it is slow.", "query"),
    ],
    "chartwright": [
        ("make_flow_chart", "Draw steps and the decisions between them.", "steps"),
        ("make_pie_chart", "Draw the shares of a whole as a pie.", "shares"),
    ],
    "belfry": [
        ("disable_bell", "Keep a bell from ringing.", "bell"),
        ("unmute_bell", "Let a bell be heard again.", "bell"),
        ("list_ringers", "List those who ring on a day.", "day"),
        ("set_peal_order", "Change the order in which a peal's changes are rung.", "peal"),
        ("get_peal", "Get a peal, with its changes.", "peal"),
        ("list_peals", "List the peals and their changes.", ""),
    ],
    "quayside": [
        ("search_sailings", "Search sailings with free places on one crossing and day.", "crossing\nday"),
        ("get_berth_plan", "Get the berth plan: which vessel lies where, and when it leaves.", "day"),
        ("moor_vessel", "Moor a vessel.", "vessel"),
        ("list_vessels", "List the vessels.", ""),
        ("get_vessel", "Get a vessel.", "vessel"),
    ],
    "oddments": [
        ("guide_boat", "Guide a new boat through the shallows.", "boat"),
        ("make_uuid", "Make a uuid.", ""),
        ("add_tag", "Add a tag to a lighthouse.", "tag"),
        ("remove_tag", "Remove a tag from a lighthouse.", "tag"),
        ("unkeel", "Unkeel a lighter.", "lighter"),
        ("take_turn", "Take a turn at the oars.", "oar"),
        ("draw_picture", "Draw a picture.", "motif"),
        ("sign_mailshots", "Sign mailshots.", "letters"),
        ("get_owner_info", "Get the owner of a lighthouse, with a doc of the sale.", "name"),
        ("get_lighthouse", "Get the height of a lighthouse.", "name"),
    ],
    "walkabout": [
        ("geocode", "Turn the address of a place into latitude and longitude.", "address"),
        ("get_travel_time", "Get the duration and length of a trip by car or on foot.", "from\nto\nmode"),
        ("get_height", "Get the elevation of a spot above the sea.", "latitude\nlongitude"),
    ],
}


@pytest.fixture
def shelf(db):
    team = people.add_team(people.SETUP, "yard", "Yard")
    for slug, tools in SERVERS.items():
        server = Server.objects.create(
            slug=slug,
            title=slug.title(),
            team=team,
            contact="c",
            data_class="internal",
            enrolled_at=timezone.now(),
        )
        entries = [
            SearchEntry(
                server=server,
                kind="tool",
                identity=f"tool:{name}",
                name=name,
                words=name.replace("_", " "),
                text=text,
                parameters=parameters,
            )
            for name, text, parameters in tools
        ]
        entries.append(
            SearchEntry(server=server, kind="server", name=slug, words=slug, text="", parameters="")
        )
        SearchEntry.objects.bulk_create(entries)
        keep_words(entries)


def first(question: str) -> str:
    found = search.find(question)["results"]
    return "".join(piece["text"] for piece in found[0]["name"]) if found else ""


@pytest.mark.parametrize(
    ("question", "tool"),
    [
        # what is not so is said by a word of its own
        ("messages I have not read yet", "find_unread_letters"),
        # a question wants something looked at; an order wants it done
        ("which containers are running", "list_containers"),
        ("run a container", "run_container"),
        ("files in a repo", "get_file_tree"),
        ("new repo", "create_repository"),
        ("new merge requests", "list_proposals"),
        ("open a merge request", "open_proposal"),
        ("list of merge requests", "list_proposals"),
        # what an answer would be
        ("who wrote this line of code", "get_line_authors"),
        ("how many records match a filter", "count_records"),
        ("how long is a trip on foot", "get_travel_time"),
        # another name for the same, and what the trades call it
        ("send an email to somebody", "send_letter"),
        ("throw a message into the bin", "trash_letter"),
        ("what is answered while I am on holiday", "set_absence_note"),
        # two words in one, a part of a name, and a slip of the pen
        ("draw a flowchart", "make_flow_chart"),
        ("kitere slow query", "explain_query"),
        ("replcas of a deploymnet", "scale_workload"),
        ("turn an adress into coordinates", "geocode"),
        ("logs of a pod", "get_logs"),
        ("a mailshot", "sign_mailshots"),
        ("mail shot for signing", "sign_mailshots"),
        # a verb that says little is none that is looked for, and who does something is called so
        ("take a picture", "draw_picture"),
        ("who owns a lighthouse", "get_owner_info"),
        ("documentation of a lighthouse", "get_owner_info"),
        # a verb with un- that is no word, unless the catalog has it
        ("untag a lighthouse", "remove_tag"),
        ("unkeel something", "unkeel"),
        # a verb with its particle, one that ends another, and a noun that may be a verb
        ("switch a bell off", "disable_bell"),
        ("turn the bell off", "disable_bell"),
        ("stop muting a bell", "unmute_bell"),
        ("time to put the addresses of a place into lat and lon", "geocode"),
        # what two words mean together
        ("a tool that tells me when the next ferry leaves", "search_sailings"),
        # times, numbers and places are what a tool is given
        ("ringers of last tuesday in Quorvik", "list_ringers"),
        # what nobody types to its end is less than what is written out
        ("a new guid", "make_uuid"),
    ],
)
def test_a_question_in_other_words_finds_what_does_it(shelf, question, tool):
    assert first(question) == tool


@pytest.mark.parametrize(
    "question",
    [
        "book a train ticket",
        "unlock the front door",
        "sudoku solver",
        "pay an invoice by bank transfer",
        "boil water",
        "send a fax",
        "2+2*7",
    ],
)
def test_what_nothing_does_is_said_so_though_words_occur(shelf, question):
    assert search.find(question)["fit"] == "none"


def test_what_stands_for_a_beginning_is_told(shelf):
    says = {
        one["asked"]: one["said"] for one in search.find("who wrote this line of code")["results"][0]["says"]
    }
    assert says["who"] in ("author", "authors") and says["line"] == "line"


def test_a_verb_is_told_as_it_was_asked_for(shelf):
    (result, *_) = search.find("switch the bell off")["results"]
    assert {"asked": "switch off", "said": "disable", "where": "name"} in result["says"]


@pytest.mark.parametrize(
    ("name", "kind"),
    [("lantern-post", "server"), ("Lantern Post", "server"), ("oddments", "server"), ("add tag", "tool")],
)
def test_who_writes_a_name_gets_what_is_called_so_first(shelf, name, kind):
    SearchEntry.objects.create(
        server=Server.objects.get(slug="oddments"),
        kind="tool",
        identity="tool:list_oddments",
        name="list_oddments",
        words="list oddments",
        text="List the oddments.",
        parameters="",
    )
    other = Server.objects.get(slug="walkabout")  # an item that bears a server's name stands behind it
    SearchEntry.objects.create(
        server=other, kind="tool", identity="tool:x", name="oddments", words="oddments"
    )
    (found, *_) = search.find(name)["results"]
    assert found["kind"] == kind
    assert first(name).replace("-", " ").replace("_", " ") == name.lower().replace("-", " ")


def test_a_number_is_read_as_no_other_number(shelf):
    SearchWord.objects.create(word="402", padded="^^402$")
    assert search.find("404")["respelled"] == {}
    assert search.find("404 containers")["results"]


def test_what_stands_beside_a_thing_counts_for_the_order_and_not_for_the_fit():
    names = ["ring bell clapper", "oil bell clapper", "mend bell clapper", "find clapper", "find kiln"]
    entries = [entry(number, {"name": name, "words": name}) for number, name in enumerate(names)]
    asked = [Asked("bell", 2.0, {"bell": 2.0}), Asked("find", 1.0, {"find": 1.0}, acts=True)]
    told = with_company(asked, entries)
    assert set(told[0].company) == {"clapper"} and not told[1].company
    plain, hinted = ([one.id for one in ranked(words, entries[3:])] for words in (asked, told))
    assert (plain, hinted) == ([3, 4], [3, 4])
    scores = {one.id: one for one in ranked(told, entries[3:])}
    assert scores[3].score > scores[4].score and scores[3].share == scores[4].share
    assert fit([scores[3]]) == fit([scores[4]])


_BELL = {"name": "ring_bell", "words": "ring bell", "text": "Ring the bell.", "server": "tower"}


@pytest.mark.parametrize(
    "other",
    [
        pytest.param(
            _BELL | {"name": "ring_bell_rope", "words": "ring bell rope"}, id="more of its name is asked for"
        ),
        pytest.param(_BELL | {"name": "sound_bell", "words": "sound bell"}, id="its name has the very words"),
        pytest.param(
            _BELL | {"text": "Ring the bell of some far chapel now and then."}, id="more of its lead is"
        ),
        pytest.param(_BELL | {"server": "chapel"}, id="its server is called so"),
        pytest.param(_BELL | {"text": "Ring the bell. " + "It is of bronze. " * 60}, id="it is shorter"),
    ],
)
def test_of_two_that_say_as_much_the_one_comes_first_for_which_more_speaks(other):
    asked = [
        Asked("ring", 1.0, {"ring": 1.0, "sound": 1.0}, acts=True),
        Asked("bell", 2.0, {"bell": 2.0}),
        Asked("tower", 2.0, {"tower": 2.0}),
    ]
    entries = [entry(1, other, kind="tool"), entry(2, _BELL, kind="tool")]
    assert [one.id for one in ranked(asked, entries)] == [2, 1]


def test_what_its_server_is_about_speaks_for_an_entry():
    asked = [Asked("bell", 2.0, {"bell": 2.0}), Asked("tower", 2.0, {"tower": 2.0})]
    bell = {"name": "ring_bell", "words": "ring bell", "text": "Ring the bell."}
    tower = {"name": "climb", "words": "climb", "text": "Climb the tower."}
    kiln = {"name": "fire", "words": "fire", "text": "Fire the kiln."}
    entries = [
        entry(1, bell | {"server": "kilns"}),
        entry(2, bell | {"server": "heights"}),
        entry(3, tower | {"server": "heights"}),
        entry(4, kiln | {"server": "kilns"}),
    ]
    found = ranked(asked, entries)
    assert found[0].id == 2
    assert len({one.share for one in found if one.id in (1, 2)}) == 1


def test_too_few_or_too_many_keep_no_company():
    few = [entry(number, {"name": "bell clapper"}) for number in range(2)]
    many = [entry(number, {"name": "bell clapper"}) for number in range(61)]
    for entries in (few, many):
        assert with_company([Asked("bell", 2.0, {"bell": 2.0})], entries)[0].company == {}
