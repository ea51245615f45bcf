"""What the servers of the Shore freight team declare, release by release, faults included."""

from __future__ import annotations

from typing import Any

from tallshelf.run.scenario.build import (
    DESTROYS,
    WRITES,
    job,
    record,
    resource,
    rows,
    server,
    since,
    template,
    text,
    tool,
    whole,
)

Declared = dict[str, Any]


def freight_manifest(version: str) -> Declared:
    weight = whole("Gross weight, in kilograms", minimum=0)
    if version == "1.0.1":
        weight = whole("Gross weight, in tonnes", minimum=0)
    return server(
        "freight-manifest",
        version,
        [
            tool(
                "get_manifest",
                "Get the freight manifest of one sailing: every consignment with its weight and hazard class.",
                {"sailing": text("Number of the sailing, such as S-2210")},
                record(
                    {"consignments": rows({"number": text("Consignment number"), "gross_weight": weight})}
                ),
            ),
            tool(
                "add_consignment",
                "Add a consignment to a sailing that is still open. Returns its number.",
                {
                    "sailing": text("Number of the sailing, such as S-2210"),
                    "gross_weight": weight,
                    "hazard_class": text("Hazard class of the dangerous goods code, or none", default="none"),
                },
                record({"number": text("Consignment number")}),
                WRITES,
                optional=("hazard_class",),
            ),
            tool(
                "remove_consignment",
                "Remove a consignment from a sailing that is still open. It cannot be brought back.",
                {"number": text("Consignment number")},
                None,
                DESTROYS,
            ),
        ],
        title="Freight manifest",
    )


def customs_notes(version: str) -> Declared:
    tools = [
        job(
            "get_customs_note",
            "Get the customs note of one consignment, with its codes and value.",
            "consignment text Consignment number, such as G-5003",
            """commodity_codes names Commodity codes of the goods
            value number Declared value, in euro
            cleared flag Whether customs has cleared it""",
        ),
        job(
            "file_customs_note",
            "File the customs note of a consignment. Filing the same one again changes nothing.",
            """consignment text Consignment number, such as G-5003
            commodity_codes names Commodity codes of the goods
            value number Declared value, in euro {"minimum": 0}""",
            "note text Number of the note, such as CN-771",
            WRITES,
        ),
        job(
            "list_held_consignments",
            "List the consignments that customs holds, oldest first.",
            "",
            """consignment text Consignment number
            reason text Why it is held""",
            listed="consignments",
        ),
    ]
    if since(version, "1.1.0"):
        # What was declined: the value became text, under the same name, in a minor release.
        tools[1]["inputSchema"]["properties"]["value"] = {
            "type": "string",
            "description": "Declared value with its currency, such as 1200 EUR",
        }
    return server("customs-notes", version, tools, title="Customs notes")


def cold_store(version: str) -> Declared:
    later = since(version, "0.9.1")
    low = -25 if later else -30
    hold = "\nhold? number How long it is held before it drifts back" if later else ""
    files = [resource("file:///srv/cold/readings.csv", "readings", "Every reading of this year.", "")]
    return server(
        "cold-store",
        version,
        [
            job(
                "list_chambers",
                "List the chambers of the cold store with their temperature now.",
                "",
                """chamber text Chamber, such as K-2
                temperature number Temperature, in degrees Celsius""",
                listed="chambers",
            ),
            job(
                "set_chamber_temperature",
                "Set the temperature that a chamber is held at.",
                f"""chamber text Chamber, such as K-2
                temperature number Temperature, in degrees Celsius {{"minimum": {low}, "maximum": 8}}{hold}""",
                "reached_by moment When it will be reached, UTC",
                WRITES,
            ),
            job(
                "get_temperature_log",
                "Get the temperatures of one chamber over one day, one for each quarter of an hour.",
                """chamber text Chamber, such as K-2
                day date The day, harbour time""",
                """at moment Time, UTC
                temperature number Temperature, in degrees Celsius""",
                listed="readings",
            ),
        ],
        title="Cold store",
        resources=[
            resource("cold-store://alarms", "alarms", "The alarms that stand, newest first."),
            *(files if later else ()),
        ],
        templates=[
            template("cold-store://{chamber}/alarms{?since}", "chamber-alarms", "Alarms of one chamber.")
        ]
        if later
        else [],
    )


def yard_slots(version: str) -> Declared:
    tools = [
        job(
            "book_yard_slot",
            "Book a slot in the trailer yard. Returns its number.",
            """trailer text Registration of the trailer
            from moment Arrival, UTC
            until moment Pick-up, UTC""",
            "slot text Number of the slot, such as Y-31",
            WRITES,
        ),
        job(
            "find_trailer",
            "Find where a trailer stands in the yard.",
            "trailer text Registration of the trailer",
            "slot text Number of the slot, empty when it is not in the yard",
        ),
        job(
            "list_free_slots",
            "List the slots that are free between two times.",
            """from moment Arrival, UTC
            until moment Pick-up, UTC""",
            """slot text Number of the slot
            powered flag Whether it has power for a cooled trailer""",
            listed="slots",
        ),
    ]
    if since(version, "1.1.0"):
        tools.append(
            job(
                "release_yard_slot",
                "Release a booked slot before its time.",
                "slot text Number of the slot, such as Y-31",
                "released flag Whether it was booked",
                WRITES,
            )
        )
    return server("yard-slots", version, tools, title="Yard slots")


SERVERS = {
    "freight-manifest": freight_manifest,
    "customs-notes": customs_notes,
    "cold-store": cold_store,
    "yard-slots": yard_slots,
}
