"""Pairs of releases, written by hand: what was changed, and what a comparison must say of it.

Each edits one base document. The expectation is the item, the impact, the reach, whether it is
silent, and the honest version; an edit that changes nothing that anybody meets expects None.
"""

from __future__ import annotations

import copy
from typing import Any, NamedTuple

GONE = object()


class Expected(NamedTuple):
    """What must be told; there may be more of no worse impact."""

    item: str
    impact: str
    reach: str
    honest: str
    silent: bool = False


class Pair(NamedTuple):
    """A name, the edits (path and value) and what is expected."""

    name: str
    edits: dict[str, Any]
    expected: Expected | None


def _text(description: str, **more: Any) -> dict[str, Any]:
    return {"type": "string", "description": description, **more}


BASE: dict[str, Any] = {
    "format": "tallshelf.snapshot/1",
    "captured": {"at": "2026-06-01T06:00:00Z", "protocolVersion": "2025-06-18"},
    "server": {
        "serverInfo": {"name": "harbour-desk", "version": "1.4.0", "title": "Harbour desk"},
        "capabilities": {
            "tools": {"listChanged": True},
            "resources": {"subscribe": True, "listChanged": True},
            "prompts": {},
            "logging": {},
        },
        "instructions": "Look up a berth before you book it. Ask for the vessel's length in metres.",
    },
    "tools": [
        {
            "name": "list_incidents",
            "title": "List incidents",
            "description": "List the incidents of a day, newest first; at most 50. Archived ones are left out.",
            "inputSchema": {
                "type": "object",
                "properties": {
                    "day": _text("The day, as YYYY-MM-DD in UTC", format="date"),
                    "berth": _text("The berth's code, such as B-04", pattern="^B-[0-9]{2}$"),
                    "severity": {
                        "enum": ["low", "high", "urgent"],
                        "description": "How bad it was; high means a person was hurt",
                        "default": "low",
                    },
                    "limit": {
                        "type": "integer",
                        "minimum": 1,
                        "maximum": 50,
                        "default": 20,
                        "description": "How many at most, up to 50",
                        "examples": [10],
                    },
                },
                "required": ["day"],
            },
            "outputSchema": {
                "type": "object",
                "properties": {
                    "incidents": {
                        "type": "array",
                        "items": {
                            "type": "object",
                            "properties": {
                                "id": {"type": "string"},
                                "severity": {"enum": ["low", "high", "urgent"]},
                                "depth": {"type": "number", "description": "Water depth in metres"},
                                "at": _text("When, in UTC", format="date-time"),
                                "cost": {"type": "number", "description": "Cost of the damage in euros"},
                            },
                            "required": ["id", "severity", "at"],
                        },
                    }
                },
                "required": ["incidents"],
            },
            "annotations": {"readOnlyHint": True, "openWorldHint": False, "title": "Incidents"},
        },
        {
            "name": "book_berth",
            "description": "Book a berth for a vessel. Returns the booking's number.",
            "inputSchema": {
                "type": "object",
                "properties": {
                    "berth_id": _text("Identifier of the berth"),
                    "length": {
                        "type": "number",
                        "minimum": 1,
                        "description": "Length of the vessel in metres",
                    },
                    "note": _text("A note for the harbour master", maxLength=200),
                    "price": {"type": "number", "description": "Agreed price in EUR"},
                    "contact": {
                        "type": "object",
                        "properties": {"name": {"type": "string"}, "phone": {"type": ["string", "null"]}},
                        "required": ["name"],
                    },
                    "tags": {"type": "array", "items": {"type": "string"}, "maxItems": 5},
                },
                "required": ["berth_id", "length"],
                "additionalProperties": False,
            },
            "annotations": {"destructiveHint": False, "idempotentHint": True},
            "execution": {"taskSupport": "optional"},
        },
        {
            "name": "free_berths",
            "description": "List the free berths of a quay.",
            "inputSchema": {"type": "object", "properties": {"quay": _text("Name of the quay")}},
        },
    ],
    "resources": [
        {
            "uri": "harbour://tides/today",
            "name": "tides_today",
            "description": "Tide table of today, heights in metres",
            "mimeType": "text/csv",
            "annotations": {"audience": ["assistant"], "priority": 0.5},
            "size": 900,
        }
    ],
    "resourceTemplates": [
        {
            "uriTemplate": "harbour://berths/{berth_id}/plan",
            "name": "berth_plan",
            "description": "Plan of one berth",
            "mimeType": "image/svg+xml",
        }
    ],
    "prompts": [
        {
            "name": "morning_briefing",
            "description": "Brief the watch on the night's incidents",
            "arguments": [
                {"name": "day", "description": "The day to brief on", "required": True},
                {"name": "tone", "description": "How to say it"},
            ],
        }
    ],
}

LIST, BOOK, FREE = "tool:list_incidents", "tool:book_berth", "tool:free_berths"
TIDES, PLAN, BRIEF = (
    "resource:harbour://tides/today",
    "template:harbour://berths/{berth_id}/plan",
    "prompt:morning_briefing",
)
T0, T1, T2 = "tools/0", "tools/1", "tools/2"
IN0, IN1 = f"{T0}/inputSchema", f"{T1}/inputSchema"
P0, P1 = f"{IN0}/properties", f"{IN1}/properties"
ROW = f"{T0}/outputSchema/properties/incidents/items"
R0, U0, Q0, SRV = "resources/0", "resourceTemplates/0", "prompts/0", "server"


def breaks(item: str, reach: str = "callers") -> Expected:
    return Expected(item, "breaking", reach, "2.0.0")


def silent(item: str, reach: str = "callers") -> Expected:
    return Expected(item, "caution", reach, "2.0.0", silent=True)


def caution(item: str, reach: str, honest: str = "1.4.1") -> Expected:
    return Expected(item, "caution", reach, honest)


def fine(item: str, reach: str, honest: str = "1.4.1") -> Expected:
    return Expected(item, "compatible", reach, honest)


def new_tool(name: str) -> dict[str, Any]:
    return {"name": name, "description": "Tell the weather.", "inputSchema": {"type": "object"}}


ARGUMENTS = [
    Pair("a parameter newly required", {f"{IN0}/required": ["day", "berth"]}, breaks(LIST)),
    Pair(
        "a new required parameter",
        {f"{P1}/crew": {"type": "integer"}, f"{IN1}/required": ["berth_id", "length", "crew"]},
        breaks(BOOK),
    ),
    Pair("a new optional parameter", {f"{P0}/quay": {"type": "string"}}, fine(LIST, "callers", "1.5.0")),
    Pair(
        "a new optional parameter of a closed tool",
        {f"{P1}/quay": {"type": "string"}},
        fine(BOOK, "callers", "1.5.0"),
    ),
    Pair("a parameter no longer required", {f"{IN1}/required": ["berth_id"]}, fine(BOOK, "callers", "1.5.0")),
    Pair("a parameter dropped, still taken", {f"{P0}/berth": GONE}, silent(LIST)),
    Pair("a parameter dropped and refused", {f"{P1}/note": GONE}, breaks(BOOK)),
    Pair(
        "a parameter renamed",
        {
            f"{P1}/berth_id": GONE,
            f"{P1}/berth": _text("Identifier of the berth"),
            f"{IN1}/required": ["berth", "length"],
        },
        breaks(BOOK),
    ),
    Pair(
        "an optional parameter renamed",
        {f"{P0}/limit": GONE, f"{P0}/max_results": {"type": "integer", "minimum": 1, "maximum": 50}},
        silent(LIST),
    ),
    Pair("an enum value dropped", {f"{P0}/severity/enum": ["low", "high"]}, breaks(LIST)),
    Pair(
        "an enum value added",
        {f"{P0}/severity/enum": ["low", "high", "urgent", "fatal"]},
        fine(LIST, "callers", "1.5.0"),
    ),
    Pair("an enum value renamed", {f"{P0}/severity/enum": ["low", "high", "critical"]}, breaks(LIST)),
    Pair("a type changed", {f"{P1}/length/type": "string"}, breaks(BOOK)),
    Pair("number to integer", {f"{P1}/length/type": "integer"}, breaks(BOOK)),
    Pair("integer to number", {f"{P0}/limit/type": "number"}, fine(LIST, "callers", "1.5.0")),
    Pair("null no longer taken", {f"{P1}/contact/properties/phone/type": "string"}, breaks(BOOK)),
    Pair("null taken as well", {f"{P1}/note/type": ["string", "null"]}, fine(BOOK, "callers", "1.5.0")),
    Pair("a maximum lowered", {f"{P0}/limit/maximum": 25}, breaks(LIST)),
    Pair("a maximum raised", {f"{P0}/limit/maximum": 100}, fine(LIST, "callers", "1.5.0")),
    Pair("a minimum raised", {f"{P1}/length/minimum": 3}, breaks(BOOK)),
    Pair("a length cut", {f"{P1}/note/maxLength": 80}, breaks(BOOK)),
    Pair("a pattern added", {f"{P1}/berth_id/pattern": "^B-[0-9]+$"}, breaks(BOOK)),
    Pair("a pattern widened", {f"{P0}/berth/pattern": "^B-[0-9]{2,3}$"}, fine(LIST, "callers", "1.5.0")),
    Pair("a pattern written otherwise", {f"{P0}/berth/pattern": "^B-\\d\\d$"}, None),
    Pair("fewer elements taken", {f"{P1}/tags/maxItems": 3}, breaks(BOOK)),
    Pair("elements of another type", {f"{P1}/tags/items": {"type": "integer"}}, breaks(BOOK)),
    Pair("a deep member newly required", {f"{P1}/contact/required": ["name", "phone"]}, breaks(BOOK)),
    Pair(
        "a deep member added",
        {f"{P1}/contact/properties/mail": {"type": "string"}},
        fine(BOOK, "callers", "1.5.0"),
    ),
    Pair("others shut out", {f"{IN0}/additionalProperties": False}, None),
    Pair("others let in", {f"{IN1}/additionalProperties": GONE}, None),
    Pair(
        "a choice of two forms",
        {
            f"{P1}/length": {
                "anyOf": [{"type": "number", "minimum": 1}, {"type": "string"}],
                "description": "Length of the vessel in metres",
            }
        },
        fine(BOOK, "callers", "1.5.0"),
    ),
    Pair("one needs another", {f"{IN1}/dependentRequired": {"price": ["note"]}}, breaks(BOOK)),
    Pair("not both at once", {f"{IN0}/not": {"required": ["berth", "severity"]}}, breaks(LIST)),
    Pair(
        "a definition pulled out",
        {
            f"{P1}/contact": {"$ref": "#/$defs/contact"},
            f"{IN1}/$defs": {
                "contact": copy.deepcopy(BASE["tools"][1]["inputSchema"]["properties"]["contact"])
            },
        },
        None,
    ),
    Pair(
        "the input schema is broken",
        {f"{P1}/length/type": "numeral"},
        Expected(BOOK, "undecided", "callers", "2.0.0"),
    ),
]

RESULTS = [
    Pair("a result field may be missing", {f"{ROW}/required": ["id", "at"]}, breaks(LIST, "receivers")),
    Pair(
        "a result field is always there",
        {f"{ROW}/required": ["id", "severity", "at", "depth"]},
        fine(LIST, "receivers", "1.5.0"),
    ),
    Pair(
        "a new result field", {f"{ROW}/properties/quay": {"type": "string"}}, fine(LIST, "receivers", "1.5.0")
    ),
    Pair("a result field is gone", {f"{ROW}/properties/depth": GONE}, caution(LIST, "receivers", "1.5.0")),
    Pair(
        "a promised result field is gone",
        {f"{ROW}/properties/at": GONE, f"{ROW}/required": ["id", "severity"]},
        breaks(LIST, "receivers"),
    ),
    Pair(
        "a new value in results",
        {f"{ROW}/properties/severity/enum": ["low", "high", "urgent", "fatal"]},
        breaks(LIST, "receivers"),
    ),
    Pair(
        "a value less in results",
        {f"{ROW}/properties/severity/enum": ["low", "high"]},
        fine(LIST, "receivers", "1.5.0"),
    ),
    Pair(
        "a result may be null",
        {f"{ROW}/properties/depth/type": ["number", "null"]},
        breaks(LIST, "receivers"),
    ),
    Pair("a result of another type", {f"{ROW}/properties/id/type": "integer"}, breaks(LIST, "receivers")),
    Pair(
        "results in pages",
        {f"{T0}/outputSchema/properties/next": {"type": "string"}},
        fine(LIST, "receivers", "1.5.0"),
    ),
    Pair("the output schema is dropped", {f"{T0}/outputSchema": GONE}, breaks(LIST, "receivers")),
    Pair(
        "an output schema is added",
        {f"{T1}/outputSchema": {"type": "object", "properties": {"number": {"type": "string"}}}},
        fine(BOOK, "receivers", "1.5.0"),
    ),
    Pair(
        "a list became an object",
        {f"{T0}/outputSchema/properties/incidents": {"type": "object"}},
        breaks(LIST, "receivers"),
    ),
]

SILENT = [
    Pair(
        "metres to feet in arguments",
        {f"{P1}/length/description": "Length of the vessel in feet"},
        silent(BOOK),
    ),
    Pair(
        "metres to fathoms in results",
        {f"{ROW}/properties/depth/description": "Water depth in fathoms"},
        silent(LIST, "receivers"),
    ),
    Pair(
        "UTC to local time", {f"{P0}/day/description": "The day, as YYYY-MM-DD in local time"}, silent(LIST)
    ),
    Pair(
        "UTC to local time in results",
        {f"{ROW}/properties/at/description": "When, in local time"},
        silent(LIST, "receivers"),
    ),
    Pair("a date's form", {f"{P0}/day/description": "The day, as DD/MM/YYYY in UTC"}, silent(LIST)),
    Pair("another currency", {f"{P1}/price/description": "Agreed price in USD"}, silent(BOOK)),
    Pair(
        "another currency in results",
        {f"{ROW}/properties/cost/description": "Cost of the damage in cents"},
        silent(LIST, "receivers"),
    ),
    Pair(
        "another kind of identifier",
        {f"{P0}/berth/description": "The berth's name, such as B-04"},
        silent(LIST),
    ),
    Pair(
        "a thousandth of it",
        {f"{P1}/length/description": "Length of the vessel in millimetres"},
        silent(BOOK),
    ),
    Pair("a default moved", {f"{P0}/limit/default": 50}, silent(LIST)),
    Pair("a default of an enum moved", {f"{P0}/severity/default": "high"}, silent(LIST)),
    Pair("a default dropped", {f"{P0}/limit/default": GONE}, silent(LIST)),
    Pair("a default added", {f"{P1}/price/default": 0}, silent(BOOK)),
    Pair(
        "how a text is encoded",
        {f"{P1}/note/contentEncoding": "base64"},
        silent(BOOK),
    ),
    Pair("null by a foreign keyword", {f"{ROW}/properties/cost/nullable": True}, silent(LIST, "receivers")),
    Pair("an example changed", {f"{P0}/limit/examples": [1000]}, silent(LIST)),
    Pair("a format changed", {f"{P0}/day/format": "date-time"}, silent(LIST)),
    Pair("a format added", {f"{P1}/note/format": "uri"}, silent(BOOK)),
    Pair(
        "an enum explained otherwise",
        {f"{P0}/severity/description": "How bad it was; high means a vessel sank"},
        silent(LIST),
    ),
    Pair(
        "explanations beside an enum",
        {f"{P0}/severity/enumDescriptions": ["scratch", "injury", "loss"]},
        silent(LIST),
    ),
    Pair(
        "a limit in the text",
        {
            f"{T0}/description": "List the incidents of a day, newest first; at most 10. Archived ones are left out."
        },
        silent(LIST),
    ),
    Pair(
        "another order",
        {
            f"{T0}/description": "List the incidents of a day, oldest first; at most 50. Archived ones are left out."
        },
        silent(LIST),
    ),
    Pair(
        "archived ones as well",
        {
            f"{T0}/description": "List the incidents of a day, newest first; at most 50. Archived ones are included."
        },
        silent(LIST),
    ),
    Pair(
        "also sends a notice",
        {
            f"{T1}/description": "Book a berth for a vessel and notify the harbour. Returns the booking's number."
        },
        silent(BOOK),
    ),
    Pair(
        "now deletes first",
        {
            f"{T1}/description": "Delete earlier bookings and book a berth for a vessel. Returns the booking's number."
        },
        silent(BOOK),
    ),
    Pair("only the free ones", {f"{T2}/description": "List only the free berths of a quay."}, silent(FREE)),
    Pair(
        "without the reserved ones",
        {f"{T2}/description": "List the free berths of a quay, without reserved ones."},
        silent(FREE),
    ),
    Pair(
        "a unit in a resource", {f"{R0}/description": "Tide table of today, heights in feet"}, silent(TIDES)
    ),
]

WORDING = [
    Pair("nothing at all", {}, None),
    Pair("captured later", {"captured/at": "2026-09-01T06:00:00Z"}, None),
    Pair("a full stop", {f"{P1}/note/description": "A note for the harbour master."}, None),
    Pair("capital letters", {f"{P1}/note/description": "A Note for the Harbour Master"}, None),
    Pair("a quotation mark", {f"{P1}/berth_id/description": "“Identifier” of the berth"}, None),
    Pair(
        "other words for the same",
        {f"{T2}/description": "Lists a quay's free berths."},
        fine(FREE, "choosers"),
    ),
    Pair(
        "politer",
        {f"{T2}/description": "Please list the free berths of a given quay."},
        fine(FREE, "choosers"),
    ),
    Pair(
        "a clearer text",
        {f"{T2}/description": "List the free berths of a quay. Use it before booking."},
        fine(FREE, "choosers"),
    ),
    Pair(
        "a text for another job",
        {f"{T2}/description": "Find lost property by its colour."},
        caution(FREE, "choosers"),
    ),
    Pair("a text that went", {f"{T2}/description": GONE}, caution(FREE, "choosers")),
    Pair("a text where none was", {f"{P1}/tags/description": "Words to find it by"}, fine(BOOK, "choosers")),
    Pair("a title", {f"{T0}/title": "Incidents of a day"}, fine(LIST, "choosers")),
    Pair("a parameter's title", {f"{P1}/note/title": "Note"}, fine(BOOK, "choosers")),
    Pair("a title among the annotations", {f"{T0}/annotations/title": "Night log"}, fine(LIST, "choosers")),
    Pair(
        "a limit that follows the schema",
        {f"{P0}/limit/maximum": 100, f"{P0}/limit/description": "How many at most, up to 100"},
        fine(LIST, "callers", "1.5.0"),
    ),
]

WRITTEN_DOWN = [
    Pair("an example where none was", {f"{P1}/note/examples": ["Two tugs"]}, fine(BOOK, "callers")),
    Pair(
        "null as the default of what may be null",
        {f"{P1}/tags/type": ["array", "null"], f"{P1}/tags/default": None},
        fine(BOOK, "callers", "1.5.0"),
    ),
    Pair("null by a foreign keyword is taken", {f"{P1}/note/nullable": True}, fine(BOOK, "operators")),
]

ITEMS = [
    Pair("a tool is gone", {T2: GONE}, breaks(FREE)),
    Pair("a tool is new", {"tools/3": new_tool("weather")}, fine("tool:weather", "choosers", "1.5.0")),
    Pair("a tool renamed", {f"{T2}/name": "list_free_berths"}, breaks(FREE)),
    Pair("a tool renamed in case", {f"{T2}/name": "freeBerths"}, breaks(FREE)),
    Pair(
        "the same name twice",
        {"tools/3": new_tool("free_berths")},
        Expected(FREE, "undecided", "callers", "2.0.0"),
    ),
    Pair("tools in another order", {"tools": BASE["tools"][::-1]}, None),
    Pair("tools were not asked for", {"tools": GONE}, None),
]

ANNOTATIONS = [
    Pair(
        "no longer says that it only reads",
        {f"{T0}/annotations/readOnlyHint": False},
        fine(LIST, "operators"),
    ),
    Pair("no longer says anything", {f"{T0}/annotations": GONE}, fine(LIST, "operators")),
    Pair("now destroys", {f"{T1}/annotations/destructiveHint": True}, fine(BOOK, "operators")),
    Pair(
        "no longer idempotent",
        {f"{T1}/annotations/idempotentHint": GONE},
        fine(BOOK, "operators"),
    ),
    Pair(
        "now open to the world",
        {f"{T0}/annotations/openWorldHint": True},
        fine(LIST, "operators"),
    ),
    Pair(
        "now says that it only reads",
        {f"{T2}/annotations": {"readOnlyHint": True}},
        caution(FREE, "operators", "1.5.0"),
    ),
    Pair(
        "says that it only reads, and books",
        {f"{T1}/annotations": {"readOnlyHint": True}},
        breaks(BOOK, "operators"),
    ),
    Pair(
        "now stays inside",
        {f"{T2}/annotations": {"openWorldHint": False}},
        caution(FREE, "operators", "1.5.0"),
    ),
    Pair(
        "now safe to repeat",
        {f"{T2}/annotations": {"idempotentHint": True}},
        caution(FREE, "operators", "1.5.0"),
    ),
    Pair(
        "what a tool that only reads need not say",
        {f"{T0}/annotations/destructiveHint": False, f"{T0}/annotations/idempotentHint": True},
        fine(LIST, "operators"),
    ),
    Pair("the default said aloud", {f"{T2}/annotations": {"readOnlyHint": False}}, fine(FREE, "operators")),
    Pair("an annotation nobody knows", {f"{T0}/annotations/x-colour": "red"}, fine(LIST, "operators")),
    Pair("a task is now required", {f"{T1}/execution/taskSupport": "required"}, breaks(BOOK)),
    Pair("no task any more", {f"{T1}/execution": GONE}, breaks(BOOK)),
    Pair("may run as a task", {f"{T0}/execution": {"taskSupport": "optional"}}, fine(LIST, "callers")),
    Pair(
        "a header mirrors an argument", {f"{P1}/berth_id/x-mcp-header": "Berth"}, caution(BOOK, "operators")
    ),
    Pair("a parameter marked as deprecated", {f"{P1}/note/deprecated": True}, caution(BOOK, "callers")),
]

RESOURCES = [
    Pair("a resource is gone", {R0: GONE}, breaks(TIDES)),
    Pair("a resource moved", {f"{R0}/uri": "harbour://tides/now"}, breaks(TIDES)),
    Pair("another MIME type", {f"{R0}/mimeType": "application/json"}, breaks(TIDES, "receivers")),
    Pair("text stays text", {f"{R0}/mimeType": "text/plain"}, caution(TIDES, "receivers")),
    Pair(
        "the same type, in another character set",
        {f"{R0}/mimeType": "text/csv; charset=latin1"},
        caution(TIDES, "receivers"),
    ),
    Pair("the MIME type is gone", {f"{R0}/mimeType": GONE}, caution(TIDES, "receivers")),
    Pair("a resource's name", {f"{R0}/name": "tides"}, caution(TIDES, "choosers")),
    Pair("a resource's size", {f"{R0}/size": 1200}, fine(TIDES, "operators")),
    Pair("for people alone", {f"{R0}/annotations/audience": ["user"]}, caution(TIDES, "choosers")),
    Pair("a priority", {f"{R0}/annotations/priority": 0.9}, fine(TIDES, "operators")),
    Pair("a template's variable renamed", {f"{U0}/uriTemplate": "harbour://berths/{id}/plan"}, breaks(PLAN)),
    Pair("a template's type", {f"{U0}/mimeType": "image/png"}, breaks(PLAN, "receivers")),
    Pair(
        "a template is new",
        {"resourceTemplates/1": {"uriTemplate": "harbour://quays/{quay}", "name": "quay"}},
        fine("template:harbour://quays/{quay}", "choosers", "1.5.0"),
    ),
]

PROMPTS = [
    Pair("a prompt is gone", {Q0: GONE}, breaks(BRIEF)),
    Pair("a prompt's argument newly required", {f"{Q0}/arguments/1/required": True}, breaks(BRIEF)),
    Pair("a prompt's argument is gone", {f"{Q0}/arguments/1": GONE}, breaks(BRIEF)),
    Pair("a prompt's argument renamed", {f"{Q0}/arguments/0/name": "date"}, breaks(BRIEF)),
    Pair(
        "a prompt's argument may be left out",
        {f"{Q0}/arguments/0/required": False},
        fine(BRIEF, "callers", "1.5.0"),
    ),
    Pair("a prompt takes one more", {f"{Q0}/arguments/2": {"name": "quay"}}, fine(BRIEF, "callers", "1.5.0")),
    Pair(
        "a prompt's arguments in another order",
        {f"{Q0}/arguments": BASE["prompts"][0]["arguments"][::-1]},
        None,
    ),
    Pair(
        "a prompt's text",
        {f"{Q0}/description": "Brief the watch on the weather of the day"},
        silent(BRIEF),
    ),
]

SERVER = [
    Pair("a capability is dropped", {f"{SRV}/capabilities/logging": GONE}, breaks("server")),
    Pair("a capability is new", {f"{SRV}/capabilities/completions": {}}, fine("server", "callers", "1.5.0")),
    Pair("no more subscriptions", {f"{SRV}/capabilities/resources/subscribe": False}, breaks("server")),
    Pair(
        "no more word of changes",
        {f"{SRV}/capabilities/tools/listChanged": GONE},
        caution("server", "operators"),
    ),
    Pair(
        "other instructions",
        {f"{SRV}/instructions": "Never book without asking a person."},
        caution("server", "choosers"),
    ),
    Pair(
        "instructions with another full stop",
        {f"{SRV}/instructions": "Look up a berth before you book it; ask for the vessel's length in metres"},
        None,
    ),
    Pair("another name", {f"{SRV}/serverInfo/name": "harbour"}, caution("server", "choosers")),
    Pair("another title", {f"{SRV}/serverInfo/title": "The harbour desk"}, fine("server", "choosers")),
    Pair(
        "a web site",
        {f"{SRV}/serverInfo/websiteUrl": "https://harbour.pellam.example"},
        fine("server", "operators"),
    ),
    Pair("another version of its own", {f"{SRV}/serverInfo/version": "1.4.1"}, fine("server", "operators")),
    Pair(
        "an older protocol revision",
        {"captured/protocolVersion": "2024-11-05"},
        caution("server", "operators"),
    ),
    Pair(
        "a newer protocol revision", {"captured/protocolVersion": "2025-11-25"}, fine("server", "operators")
    ),
    Pair("metadata of a tool", {f"{T2}/_meta": {"example/owner": "berths"}}, fine(FREE, "operators")),
    Pair(
        "an icon", {f"{T2}/icons": [{"src": "https://harbour.pellam.example/i.png"}]}, fine(FREE, "operators")
    ),
    Pair("a field nobody knows", {f"{T2}/x-since": "2026"}, fine(FREE, "operators")),
]

PAIRS = [
    *ARGUMENTS,
    *RESULTS,
    *SILENT,
    *WRITTEN_DOWN,
    *WORDING,
    *ITEMS,
    *ANNOTATIONS,
    *RESOURCES,
    *PROMPTS,
    *SERVER,
]


def edited(edits: dict[str, Any]) -> dict[str, Any]:
    """Return the base document with some places set, added or taken out."""
    document = copy.deepcopy(BASE)
    for path, value in edits.items():
        *steps, last = path.split("/")
        place: Any = document
        for step in steps:
            place = place[int(step)] if isinstance(place, list) else place[step]
        key: Any = int(last) if isinstance(place, list) else last
        if value is GONE:
            del place[key]
        elif isinstance(place, list) and key == len(place):
            place.append(copy.deepcopy(value))
        else:
            place[key] = copy.deepcopy(value)
    return document
