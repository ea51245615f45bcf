"""What a text says once more that its schema says moves nothing; what it says besides, or otherwise, is told."""

from __future__ import annotations

import pytest

from tallshelf.core.changes._said import only_says_the_schema

RANGE = {"type": "integer", "minimum": 1, "maximum": 60}
OPEN = {"type": "number", "exclusiveMinimum": 0, "exclusiveMaximum": 5}
ORDER = {"enum": ["newest", "oldest"], "default": "newest"}
OFF, ON = {"type": "boolean", "default": False}, {"type": "boolean", "default": True}
WAIT = {"type": "integer", "default": 1800}
FORM = {form: {"type": "string", "format": form} for form in ("date", "date-time", "email", "uuid")}
DOCK = {
    "inputSchema": {
        "properties": {"pier": {"type": "string"}, "captain_name": {"type": "string"}},
        "required": ["pier"],
    }
}
ACTS = {"enum": ["wipe all logs", "keep"]}
ROOT = {"inputSchema": {"enum": ["wipes", "logs"], "default": "wipes logs", "properties": {}, "required": []}}
SAID = [
    (ACTS, "What to do.", "What to do: keep, or wipe all logs."),
    (RANGE, "Berths to reserve.", "Berths to reserve, from 1 to 60."),
    (RANGE, "Berths to reserve.", "Berths to reserve; at least 1, at most 60."),
    (RANGE, "Which pier.", "Which pier; the first is 1."),
    (OPEN, "Depth.", "Depth; more than 0, less than 5."),
    (ORDER, "Order of the list.", "Order of the list: newest or oldest."),
    (ORDER, "Order of the list.", "Order of the list; newest first unless something else is asked for."),
    (ORDER, "Order of the list.", "Order of the list. Defaults to newest."),
    (
        OFF,
        "Whether the harbour master is called.",
        "Whether the harbour master is called. If omitted, nobody is called.",
    ),
    (OFF, "Whether to ring.", "Whether to ring; false by default."),
    (ON, "Whether to ring.", "Whether to ring; true by default."),
    (WAIT, "How long to wait, in seconds.", "How long to wait, in seconds. By default half an hour."),
    (FORM["date"], "Day of the sailing.", "Day of the sailing, as YYYY-MM-DD."),
    (
        FORM["date-time"],
        "When it sails.",
        "When it sails, in ISO 8601 with an offset (2026-05-01T18:00:00+02:00).",
    ),
    (FORM["email"], "Who books.", "Who books; an e-mail address, not a name."),
    (FORM["uuid"], "The voyage.", "The voyage: a UUID, not the number on the ticket."),
    (DOCK, "Docks a vessel.", "Docks a vessel. A pier must be given."),
    (DOCK, "Docks a vessel.", "Docks a vessel. The captain's name is optional."),
]
KEEP = {"type": "boolean", "default": False}
NOT_SAID = [
    (ORDER, "Order of the list.", "Order of the list: newest."),
    (ORDER, "Order of the list.", "Order of the list; only newest."),
    (
        KEEP,
        "Whether to wipe or keep the logs.",
        "Whether to wipe or keep the logs. If omitted, does not keep the logs.",
    ),
    (KEEP, "Whether logs are not kept.", "Whether logs are not kept. If omitted, logs are not kept."),
    (ACTS, "What to do.", "What to do: wipe logs."),
    (ROOT, "Counts logs.", "Counts logs. Wipes logs by default."),
    (RANGE, "Berths to reserve.", "Berths to reserve, at most 40."),
    (RANGE, "Berths to reserve.", "Berths to reserve, at most 1."),
    (RANGE, "Berths to reserve.", "Berths to reserve, at least 60."),
    (RANGE, "Berths to reserve.", "Berths to reserve, more than 1."),
    (RANGE, "Berths to reserve.", "Berths to reserve, from 1 to 60 each day."),
    (OPEN, "Depth.", "Depth; at least 0."),
    (ORDER, "Order of the list.", "Order of the list; oldest first unless something else is asked for."),
    (ORDER, "Order of the list.", "Order of the list: newest or deepest."),
    (
        OFF,
        "Whether the harbour master is called.",
        "Whether the harbour master is called. If omitted, they are called.",
    ),
    (OFF, "Whether to ring.", "Whether to ring; true by default."),
    (ON, "Whether to ring.", "Whether to ring. If omitted, it does not ring."),
    (WAIT, "How long to wait, in seconds.", "How long to wait, in seconds. By default an hour."),
    (FORM["email"], "Who books.", "Who books; an e-mail address, not checked."),
    (FORM["date"], "Day of the sailing.", "Day of the sailing, as YYYY-MM-DD, harbour time."),
    (FORM["uuid"], "The voyage.", "The voyage: a UUID that is only kept for a day."),
    (DOCK, "Docks a vessel.", "Docks a vessel. The captain's name must be given."),
    (DOCK, "Docks a vessel.", "Docks a vessel. A pilot must be given."),
]


@pytest.mark.parametrize(("schema", "short", "long"), SAID)
def test_it_may_be_told_or_left_untold(schema, short, long):
    assert only_says_the_schema(short, long, schema, schema)
    assert only_says_the_schema(long, short, schema, schema)


@pytest.mark.parametrize(("schema", "short", "long"), NOT_SAID)
def test_what_the_schema_does_not_say_is_told(schema, short, long):
    assert not only_says_the_schema(short, long, schema, schema)


def test_what_the_schema_says_in_place_of_the_text_is_no_news():
    told, bare = {"type": "boolean"}, ON
    assert only_says_the_schema("Whether to ring. True by default.", "Whether to ring.", told, bare)
    assert not only_says_the_schema("Whether to ring. True by default.", "Whether to ring.", bare, told)
