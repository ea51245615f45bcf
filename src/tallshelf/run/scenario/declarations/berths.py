"""What the servers of the Berths team declare, release by release, faults included."""

from __future__ import annotations

import json
from typing import Any

from tallshelf.run.scenario.build import (
    READS,
    WRITES,
    flag,
    job,
    number,
    prompt,
    record,
    resource,
    rows,
    server,
    since,
    template,
    text,
    tool,
)

Declared = dict[str, Any]


def _find_free_berth(
    unit: str, basins: list[str], *, basin_needed: bool, power: bool, depth: bool
) -> Declared:
    found = {"berth_id": text("Berth number, such as N-04"), "length": number(f"Usable length, in {unit}")}
    if depth:
        found["depth"] = number("Depth at lowest tide, in metres")
    parameters = {
        "vessel_length": number(f"Length overall of the vessel, in {unit}", minimum=0),
        "from": text("Start of the stay, UTC", format="date-time"),
        "until": text("End of the stay, UTC", format="date-time"),
        "basin": text("Look in this basin only", enum=basins),
    }
    if power:
        parameters["shore_power"] = flag("Only berths with shore power")
    optional = (() if basin_needed else ("basin",)) + (("shore_power",) if power else ())
    return tool(
        "find_free_berth",
        "Find berths that are free for a vessel between two times. Returns berth numbers with their length"
        + (" and depth." if depth else "."),
        parameters,
        record({"berths": rows(found)}),
        optional=optional,
    )


def _berth_tools() -> list[Declared]:
    return [
        tool(
            "get_berth_plan",
            "Get the berth plan of one day: which vessel lies at which berth, and when it leaves.",
            {"day": text("The day, as YYYY-MM-DD, harbour time", format="date")},
            record({"stays": rows({"berth_id": text("Berth number"), "vessel": text("Name of the vessel")})}),
        ),
        tool(
            "book_berth",
            "Book a berth for a vessel. Booking the same stay again changes nothing. Returns the booking number.",
            {
                "berth_id": text("Berth number, such as N-04"),
                "vessel": text("Name of the vessel"),
                "from": text("Start of the stay, UTC", format="date-time"),
                "until": text("End of the stay, UTC", format="date-time"),
            },
            record({"booking": text("Booking number, such as B-1182")}),
            WRITES,
        ),
    ]


def berth_planner(version: str) -> Declared:
    if version == "1.5.0":
        tools = [
            _find_free_berth("feet", ["north", "east"], basin_needed=True, power=True, depth=False),
            *_berth_tools(),
            tool(
                "release_berth",
                "Release a booked berth before its time. Returns whether it was booked.",
                {"booking": text("Booking number, such as B-1182")},
                record({"released": flag("Whether it was booked")}),
                READS,
            ),
        ]
    else:
        basins = ["north", "east", "outer"]
        tools = [
            _find_free_berth("metres", basins, basin_needed=False, power=False, depth=version != "1.4.1"),
            *_berth_tools(),
        ]
    return server(
        "berth-planner",
        version,
        tools,
        title="Berth planner",
        instructions="Plans of the Pellam terminal. All times are UTC unless a field says harbour time.",
        resources=[
            {
                "uri": "berths://plan/today",
                "name": "todays-berth-plan",
                "description": "The berth plan of today as a table, one line for each berth.",
                "mimeType": "text/csv",
            }
        ],
        prompts=[
            {
                "name": "plan-arrival",
                "description": "Plan where an arriving vessel should lie, with a second choice.",
                "arguments": [{"name": "vessel", "description": "Name of the vessel", "required": True}],
            }
        ],
    )


def tide_tables(version: str) -> Declared:
    drifted = version.endswith("+running")
    tools = [
        tool(
            "get_tide_times",
            "Get the times and heights of high and low water at one quay for one day.",
            {
                "quay": text("Quay, such as pellam-north"),
                "day": text("The day, as YYYY-MM-DD, harbour time", format="date"),
            },
            record(
                {
                    "tides": rows(
                        {
                            "at": text(
                                "Time, local harbour time" if drifted else "Time, UTC", format="date-time"
                            ),
                            "height": number("Height above chart datum, in metres"),
                        }
                    )
                }
            ),
        ),
        tool(
            "get_clearance",
            "Get the clearance under the sound bridge at one time, in metres.",
            {"at": text("The time, UTC", format="date-time")},
            record({"clearance": number("Clearance, in metres")}),
        ),
    ]
    if drifted:
        tools.append(
            tool(
                "set_gauge_offset",
                "Set the offset of a tide gauge after it was surveyed.",
                {"gauge": text("Gauge number, such as G-2"), "offset": number("Offset, in centimetres")},
                None,
                WRITES,
            )
        )
    return server("tide-tables", version.partition("+")[0], tools, title="Tide tables")


def pilotage(version: str) -> Declared:
    """Its second major shows most classes of change: silent, wording, hints, resources, prompts."""
    anew = since(version, "2.0.0")
    draught = "in decimetres" if anew else "in metres"
    again = "books one more" if anew else "changes nothing"
    tools = [
        job(
            "list_pilots_on_duty",
            "List the pilots on duty at one time, with the vessels they may bring in.",
            "at moment The time, UTC",
            """pilot_id text Pilot number, such as P-07
            name text Full name
            largest_length number Length of the longest vessel they may bring in, in metres""",
            listed="pilots",
        ),
        job(
            "order_pilot",
            f"Order a pilot for an arrival or departure. Ordering the same one again {again}.",
            f"""vessel text Name of the vessel
            at moment When the pilot boards, UTC
            draught number Draught of the vessel, {draught} {{"minimum": 0}}
            direction text Into the sound or out of it {{"enum": ["in", "out"]}}""",
            "order text Order number, such as PO-331",
            {**WRITES, "idempotentHint": not anew},
        ),
        job(
            "cancel_pilot_order",
            "Cancel a pilot order up to two hours before boarding. Returns whether a fee is due.",
            "order text Order number, such as PO-331",
            "fee_due flag Whether a fee is due",
            {"readOnlyHint": False, "destructiveHint": True},
        ),
        job(
            "get_boarding_ground",
            "Get the position of the boarding ground in use."
            if anew
            else "Gets the position of the boarding ground that is in use.",
            "",
            """latitude number Latitude in decimal degrees, north is positive
            longitude number Longitude in decimal degrees, east is positive""",
        ),
    ]
    if since(version, "1.1.0"):
        tools.append(
            job(
                "get_pilotage_fee",
                "Get what the pilotage of one vessel costs, in euro.",
                "vessel text Name of the vessel",
                'fee number Fee in euro {"minimum": 0}',
            )
        )
    asked = {"vessel": "Name of the vessel", **({"language": "Language to write in"} if anew else {})}
    kind = "application/json" if anew else "text/csv"
    return server(
        "pilotage",
        version,
        tools,
        title="Pilotage",
        resources=[
            resource("pilotage://notices", "pilot-notices", "All notices to pilots that are in force.", kind)
        ],
        prompts=[prompt("boarding_brief", "Brief the bridge before the pilot boards.", **asked)],
    )


def harbour_radio(version: str) -> Declared:
    return server(
        "harbour-radio",
        version,
        [
            job(
                "list_moorings",
                "List the berths of one basin, with their length and depth.",
                'basin text Basin {"enum": ["north", "east", "outer"]}',
                """berth_id text Berth number, such as N-04
                length number Usable length, in metres
                depth number Depth at lowest tide, in metres""",
                listed="berths",
            ),
            job(
                "get_working_channel",
                "Get the radio channel that a vessel should work on in one area.",
                "area text Area of the sound, such as north-roads",
                "channel whole Number of the channel",
            ),
            job(
                "list_radio_calls",
                "List the radio calls of one day, newest first.",
                "day date The day, harbour time",
                """at moment Time of the call, UTC
                vessel text Name of the vessel
                summary text What was said, in a sentence""",
                listed="calls",
            ),
        ],
        title="Harbour radio",
    )


def incident_log(version: str) -> Declared:
    severity = ["minor", "serious", "grave"] if since(version, "1.1.0") else ["minor", "serious"]
    tools = [
        job(
            "report_incident",
            "Report an incident on board or ashore. Returns its number.",
            f"""place text Vessel or terminal
            at moment When it happened, UTC
            severity text How grave it is {{"enum": {json.dumps(severity)}}}
            account text What happened, in a few sentences""",
            "incident text Number of the incident, such as I-4411",
            WRITES,
        ),
        job(
            "get_incident",
            "Get one incident with its account and what was done about it.",
            "incident text Number of the incident, such as I-4411",
            """place text Vessel or terminal
            at moment When it happened, UTC
            severity text How grave it is
            account text What happened
            measures text What was done about it""",
        ),
        job(
            "search_incidents",
            "Search incidents by words of their account. Returns at most fifty, newest first.",
            """words text Words of the account
            from? date First day, harbour time""",
            """incident text Number of the incident
            severity text How grave it is
            at moment When it happened, UTC""",
            listed="incidents",
        ),
        job(
            "close_incident",
            "Close an incident once its measures are done. A closed one can be opened again.",
            """incident text Number of the incident, such as I-4411
            measures text What was done about it""",
            "closed flag Whether it is closed now",
            WRITES,
        ),
    ]
    if since(version, "1.1.0"):
        # It only reads what a resource of the muster drills offers.
        tools.append(job("get_drill_rules", "Get the rules on how often each drill is held."))
    return server(
        "incident-log",
        version,
        tools,
        title="Incident log",
        resources=[
            resource("incidents://open", "open-incidents", "All incidents that are open, newest first.")
        ],
        templates=[
            template(
                "incidents://{incident}/report",
                "incident-report",
                "The report of one incident.",
                "text/plain",
            )
        ],
        prompts=[
            prompt(
                "summarise-incident",
                "Summarise one incident for the weekly safety note.",
                incident="Its number",
            )
        ],
    )


SERVERS = {
    "berth-planner": berth_planner,
    "tide-tables": tide_tables,
    "pilotage": pilotage,
    "harbour-radio": harbour_radio,
    "incident-log": incident_log,
}
