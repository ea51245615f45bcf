"""What is told of the ledger outside: complete, in words, as CloudEvents and as Atom, and never more than is meant."""

from __future__ import annotations

import base64
import xml.etree.ElementTree as ET

import pytest

from tallshelf.core.ledger.events import PAYLOADS, Event
from tallshelf.core.telling import (
    TOLD,
    Feed,
    atom,
    cloud_event,
    holds,
    page_of,
    sign,
    words_of,
    written_secret,
)

VALUES = {str: "word", int: 7, bool: True}
QUIET = {
    "token",
    "password",
    "person",
    "session",
    "team",
    "desk",
    "rules",
    "style",
    "ruling",
    "waiver",
    "known",
    "chain",
}


def body(event: Event) -> dict:
    made = {}
    for name, kind in PAYLOADS[event].items():
        made[name] = VALUES.get(kind, [] if "list" in str(kind) else {} if "dict" in str(kind) else None)
    return made


def entry(event: Event, **more) -> dict:
    return {
        "number": 12,
        "at": "2030-05-01T10:00:00.000Z",
        "event": event.value,
        "hash": "sha256:" + "a" * 64,
        "body": {**body(event), **more},
    }


@pytest.mark.parametrize("event", TOLD)
def test_what_is_told_is_told_in_words_and_names_no_account_or_digest(event):
    made = cloud_event(entry(event, release_digest="sha256:secret", username="ines"), "https://shelf.example")
    assert made["specversion"] == "1.0" and made["id"] == "12" and made["type"].startswith("tallshelf.")
    assert set(made) == {"specversion", "id", "source", "type", "subject", "time", "datacontenttype", "data"}
    words = made["data"]["words"]
    assert (
        words and "{" not in words and not words.endswith((".", " ", ":")) and "word" in words
    ) or "7" in words
    assert "sha256" not in str(made) and "ines" not in str(made)


def test_what_is_of_accounts_and_decisions_inside_is_not_told():
    told = {one.value for one in TOLD if one.value.split("-")[0] in QUIET}
    assert told == {"desk-reminded", "waiver-due"}  # what somebody has to do by a day


@pytest.mark.parametrize(
    ("event", "more", "words", "page"),
    [
        (
            Event.RELEASE_PUBLISHED,
            {"server": "tides", "version": "1.4.0"},
            "tides 1.4.0 was published",
            "/servers/tides/1.4.0",
        ),
        (
            Event.SUSPENDED,
            {"server": "tides", "item": "", "reason": "wrong"},
            "tides is suspended: wrong",
            "/servers/tides",
        ),
        (
            Event.SUSPENDED,
            {"server": "tides", "item": "tool:a", "reason": ""},
            "tool:a of tides is suspended",
            "/servers/tides",
        ),
        (
            Event.SIGNED_OFF,
            {"request": 4, "desk": "security", "answer": "agree"},
            "request 4 was answered at security: agree",
            "/requests/4",
        ),
        (
            Event.KIT_MOVED,
            {"kit": "helper", "because": "moved by itself: tides 1.0.0 to 1.1.0"},
            "the kit helper was moved by itself: tides 1.0.0 to 1.1.0",
            "/kits/helper",
        ),
    ],
)
def test_an_event_reads_as_a_sentence_and_leads_to_its_page(event, more, words, page):
    made = entry(event, **more)
    assert words_of(made["event"], made["body"]) == words and page_of(made["body"]) == page


def test_a_feed_is_atom_and_what_strangers_wrote_is_text():
    nasty = "<script>alert(1)</script> & \x00\x1b ]]> ‮"
    rows = [entry(Event.SUSPENDED, server="tides", item="", reason=nasty), entry(Event.RELEASE_PUBLISHED)]
    feed = Feed("T", "https://s.example/feeds/catalog.atom", "https://s.example/", "https://s.example")
    root = ET.fromstring(atom(feed, rows, "2030-01-01T00:00:00Z"))
    space = "{http://www.w3.org/2005/Atom}"
    assert root.tag == f"{space}feed" and root.findtext(f"{space}updated") == rows[0]["at"]
    for name in ("id", "title", "updated", "author"):
        assert root.find(f"{space}{name}") is not None
    entries = root.findall(f"{space}entry")
    assert len(entries) == 2 and "<script>alert(1)</script>" in entries[0].findtext(f"{space}title")
    assert not list(root.iter("script")) and "\x00" not in entries[0].findtext(f"{space}title")
    assert {one.tag for one in entries[0]} == {
        f"{space}{name}" for name in ("id", "title", "updated", "link", "summary")
    }
    assert (
        ET.fromstring(atom(feed, [], "2030-01-01T00:00:00Z")).findtext(f"{space}updated")
        == "2030-01-01T00:00:00Z"
    )


# The example of the specification's reference implementation: what others sign, holds here, and the other way round.
EXAMPLE = ("whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw", "msg_p5jXN8AQM9LWM0D4loKWxJek", 1614265330)
SIGNED = "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE="
BODY = b'{"test": 2432232314}'


def test_signatures_are_those_of_standard_webhooks():
    secret, message, moment = EXAMPLE
    key = base64.b64decode(secret.removeprefix("whsec_"))
    assert sign([key], message, moment, BODY) == SIGNED and written_secret(key) == secret
    assert sign([b"other", key], message, moment, BODY).split(" ")[1] == SIGNED


@pytest.mark.parametrize(
    ("change", "good"),
    [
        ({}, True),
        ({"signatures": f"v1,AAAA {SIGNED} v1a,x"}, True),
        ({"signatures": SIGNED.replace("v1,", "v2,")}, False),
        ({"signatures": ""}, False),
        ({"signatures": "é"}, False),
        ({"body": BODY + b" "}, False),
        ({"message": "msg_other"}, False),
        ({"timestamp": "1614265331"}, False),
        ({"timestamp": "soon"}, False),
        ({"now": 1614265330 + 301}, False),
        ({"now": 1614265330 - 301}, False),
        ({"now": 1614265330 + 299}, True),
        ({"secret": "whsec_"}, False),
        ({"secret": "whsec_%"}, False),
    ],
)
def test_a_signature_holds_for_these_bytes_this_name_and_five_minutes(change, good):
    secret, message, moment = EXAMPLE
    came = {
        "secret": secret,
        "message": message,
        "timestamp": str(moment),
        "signatures": SIGNED,
        "body": BODY,
    }
    assert holds(**{**came, "now": moment, **change}) is good
