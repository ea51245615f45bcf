"""What the servers of the Fleet upkeep team declare, release by release, faults included."""

from __future__ import annotations

from typing import Any

from tallshelf.run.scenario.build import DESTROYS, WRITES, job, prompt, resource, server, since, template

Declared = dict[str, Any]


def engine_log(version: str) -> Declared:
    vessel = "vessel" if since(version, "2.0.0") else "ship"
    tools = [
        job(
            "get_engine_readings",
            "Get the readings of one engine over one day: speed, temperature and oil pressure.",
            f"""{vessel} text Name of the vessel
            engine text Engine {{"enum": ["port", "starboard"]}}
            day date The day, harbour time""",
            """at moment Time, UTC
            speed number Speed, in revolutions per minute
            coolant number Temperature of the coolant, in degrees Celsius
            oil_pressure number Oil pressure, in bar""",
            listed="readings",
        ),
        job(
            "add_log_entry",
            "Add an entry to the engine log. Entries cannot be changed afterwards.",
            f"""{vessel} text Name of the vessel
            words text What was seen or done, in a few sentences""",
            "entry text Number of the entry, such as E-90211",
            WRITES,
        ),
        job(
            "list_alarms",
            "List the alarms of a vessel's engines, newest first.",
            f"{vessel} text Name of the vessel",
            """at moment Time, UTC
            alarm text What the alarm was
            acknowledged flag Whether someone acknowledged it""",
            listed="alarms",
        ),
    ]
    if since(version, "1.1.0"):
        tools.append(
            job(
                "get_running_hours",
                "Get the running hours of one engine since its last overhaul.",
                f"""{vessel} text Name of the vessel
                engine text Engine {{"enum": ["port", "starboard"]}}""",
                "hours number Running hours",
            )
        )
    return server("engine-log", version, tools, title="Engine log")


def fuel_ledger(version: str) -> Declared:
    unit = "in tonnes" if since(version, "2.2.0") else "in litres"
    tools = [
        job(
            "get_fuel_stock",
            "Get how much fuel a vessel has on board.",
            "vessel text Name of the vessel",
            f"stock number Fuel on board, {unit}",
        ),
        job(
            "record_bunkering",
            "Record that a vessel took fuel. Recording the same delivery again changes nothing.",
            f"""vessel text Name of the vessel
            delivery text Number of the delivery note
            quantity number Fuel taken, {unit} {{"minimum": 0}}""",
            f"stock number Fuel on board now, {unit}",
            WRITES,
        ),
        job(
            "list_consumption",
            "List the consumption of a vessel by sailing, between two days.",
            """vessel text Name of the vessel
            from date First day, harbour time
            until date Last day, harbour time""",
            f"""sailing text Number of the sailing
            used number Fuel used, {unit}""",
            listed="sailings",
        ),
        job(
            "estimate_fuel",
            "Estimate the fuel that one crossing takes in given weather.",
            """crossing text Crossing, such as pellam-skerry
            wind number Wind, in metres per second {"minimum": 0}""",
            f"needed number Fuel needed, {unit}",
        ),
    ]
    if since(version, "2.1.0"):
        tools.append(
            job(
                "list_fuel_prices",
                "List the prices of fuel at the terminals, in euro per cubic metre.",
                "",
                """terminal text Terminal
                price number Price, in euro per cubic metre""",
                listed="prices",
            )
        )
    return server("fuel-ledger", version, tools, title="Fuel ledger")


def dry_dock(version: str) -> Declared:
    tools = [
        job(
            "list_dockings",
            "List the dockings that are planned, with vessel, yard and days.",
            "",
            """docking text Number of the docking, such as DK-12
            vessel text Name of the vessel
            from date First day, harbour time
            until date Last day, harbour time""",
            listed="dockings",
        ),
        job(
            "plan_docking",
            "Plan a docking. The berth planner is told that the vessel is away.",
            """vessel text Name of the vessel
            yard text Name of the yard
            from date First day, harbour time
            until date Last day, harbour time""",
            "docking text Number of the docking, such as DK-12",
            WRITES,
        ),
        job(
            "list_dock_works",
            "List the works of one docking with their state.",
            "docking text Number of the docking, such as DK-12",
            """work text Number of the work
            title text What is done
            state text State of the work""",
            listed="works",
        ),
        job(
            "add_dock_work",
            "Add a work to a docking that has not begun.",
            """docking text Number of the docking, such as DK-12
            title text What is to be done
            hours? number Estimated hours of work {"minimum": 0}""",
            "work text Number of the work, such as W-801",
            WRITES,
        ),
        job(
            "get_dock_cost",
            "Get what one docking costs so far, in euro.",
            "docking text Number of the docking, such as DK-12",
            "cost number Cost in euro",
        ),
    ]
    if since(version, "1.1.0"):
        tools.append(
            job(
                "cancel_docking",
                "Cancel a docking that has not begun. Its works are dropped.",
                "docking text Number of the docking, such as DK-12",
                "dropped whole How many works were dropped",
                DESTROYS,
            )
        )
        # The tide tables know this already, and nobody has ruled on it yet.
        tools.append(
            job(
                "fetch_tide_times",
                "Fetch the times and heights of high and low water at a quay for one day.",
                """quay text Quay, such as pellam-north
                day date The day, harbour time""",
                """at moment Time, UTC
                height number Height above chart datum, in metres""",
                listed="tides",
            )
        )
    return server(
        "dry-dock",
        version,
        tools,
        title="Dry dock",
        templates=[template("docking://{docking}/plan", "docking-plan", "The plan of one docking.")],
        prompts=[prompt("brief-yard", "Brief the yard about one docking.", docking="Number of the docking")],
    )


def spare_parts(version: str) -> Declared:
    number = "part_number" if since(version, "2.0.0") else "part"
    tools = [
        job(
            "search_parts",
            "Search spare parts by words of their name or by the machine they fit.",
            """words text Words of the name
            machine? text Machine, such as bow-thruster""",
            f"""{number} text Part number, such as 7-2201-B
            name text Name of the part
            stock whole How many are in stock""",
            listed="parts",
        ),
        job(
            "get_part",
            "Get one spare part: where it lies, how many there are, what it costs.",
            f"{number} text Part number, such as 7-2201-B",
            """name text Name of the part
            shelf text Where it lies
            stock whole How many are in stock
            price number Price in euro""",
        ),
        job(
            "reserve_part",
            "Reserve parts for a work. Reserving the same again changes nothing.",
            f"""{number} text Part number, such as 7-2201-B
            work text Number of the work, such as W-801
            quantity whole How many {{"minimum": 1}}""",
            "left whole How many are left",
            WRITES,
        ),
        job(
            "order_part",
            "Order parts from the supplier. Returns the number of the order.",
            f"""{number} text Part number, such as 7-2201-B
            quantity whole How many {{"minimum": 1}}""",
            "order text Number of the order, such as O-6120",
            WRITES,
        ),
        job(
            "cancel_part_order",
            "Cancel an order that was not sent yet.",
            "order text Number of the order, such as O-6120",
            "cancelled flag Whether it was not sent yet",
            DESTROYS,
        ),
        job(
            "list_low_stock",
            "List the parts of which fewer are in stock than should be.",
            "",
            f"""{number} text Part number
            stock whole How many are in stock
            minimum whole How many should be""",
            listed="parts",
        ),
        job(
            "get_supplier",
            "Get the supplier of a part, with delivery time in days.",
            f"{number} text Part number, such as 7-2201-B",
            """supplier text Name of the supplier
            days whole Delivery time, in days""",
        ),
    ]
    return server(
        "spare-parts",
        version,
        tools,
        title="Spare parts",
        resources=[resource("parts://catalogue", "catalogue", "All parts with number and name.", "text/csv")],
    )


def hull_survey(version: str) -> Declared:
    return server(
        "hull-survey",
        version,
        [
            job(
                "get_survey",
                "Get the latest hull survey of a vessel, with its measurements of plate thickness.",
                "vessel text Name of the vessel",
                """day date Day of the survey, harbour time
                thinnest number Thickness of the thinnest plate, in millimetres""",
            ),
            job(
                "list_surveys_due",
                "List the vessels whose survey is due within some days.",
                'days whole Within how many days {"minimum": 1}',
                """vessel text Name of the vessel
                due date Day it is due, harbour time""",
                listed="surveys",
            ),
            job(
                "upload_survey",
                "Upload the measurements of a survey. Uploading the same one again changes nothing.",
                """vessel text Name of the vessel
                day date Day of the survey, harbour time
                thinnest number Thickness of the thinnest plate, in millimetres {"minimum": 0}""",
                "survey text Number of the survey, such as H-88",
                WRITES,
            ),
        ],
        title="Hull survey",
    )


SERVERS = {
    "engine-log": engine_log,
    "fuel-ledger": fuel_ledger,
    "dry-dock": dry_dock,
    "spare-parts": spare_parts,
    "hull-survey": hull_survey,
}
