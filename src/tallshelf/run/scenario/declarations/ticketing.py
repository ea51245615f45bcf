"""What the servers of the Ticketing team declare, release by release, faults included."""

from __future__ import annotations

import json
from typing import Any

from tallshelf.run.scenario.build import (
    DESTROYS,
    WRITES,
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


def fare_desk(version: str) -> Declared:
    classes = ["foot", "bicycle", "car"] + (["van"] if version != "1.0.0" else [])
    return server(
        "fare-desk",
        version,
        [
            tool(
                "quote_fare",
                "Quote the fare of one crossing for one class of passenger or vehicle, in euro.",
                {
                    "crossing": text("Crossing, such as pellam-skerry"),
                    "fare_class": text("Class of passenger or vehicle", enum=classes),
                    "day": text("The day of travel, as YYYY-MM-DD", format="date"),
                },
                record({"amount": number("Fare in euro", minimum=0)}),
            ),
            tool(
                "list_crossings",
                "List the crossings that can be booked, with their terminals.",
                {},
                record({"crossings": rows({"crossing": text("Crossing"), "terminals": text("From and to")})}),
            ),
        ],
        title="Fare desk",
    )


_BOOKING = "booking text Booking number, such as K-77120"


def bookings(version: str) -> Declared:
    """The big one: one server for all of ticketing."""
    channel = ["desk", "web", "phone"] + (["agent"] if since(version, "3.1.0") else [])
    tools = [
        job(
            "search_sailings",
            "Search sailings with free places on one crossing and day.",
            """crossing text Crossing, such as pellam-skerry
            day date The day of travel, harbour time
            passengers? whole How many people travel {"minimum": 1, "default": 1}""",
            """sailing text Number of the sailing, such as S-2210
            departs moment Departure, UTC
            free whole Places that are free""",
            listed="sailings",
        ),
        job(
            "get_booking",
            "Get one booking with its passengers, vehicle and what was paid.",
            _BOOKING,
            """sailing text Number of the sailing
            passengers names Names of the passengers
            vehicle text Registration of the vehicle, empty for none
            paid number What was paid, in euro""",
        ),
        job(
            "create_booking",
            "Create a booking on a sailing that has places. Returns its number; it is held for twenty minutes.",
            f"""sailing text Number of the sailing, such as S-2210
            passengers names Names of the passengers
            channel text Where the booking comes from {{"enum": {json.dumps(channel)}}}
            vehicle? text Registration of the vehicle""",
            _BOOKING,
            WRITES,
        ),
        job(
            "confirm_booking",
            "Confirm a held booking once it is paid. Confirming it again changes nothing.",
            _BOOKING + "\npayment text Payment number, such as Z-55012",
            "confirmed flag Whether it is confirmed now",
            WRITES,
        ),
        job(
            "cancel_booking",
            "Cancel a booking. What comes back depends on how long it is until departure.",
            _BOOKING,
            "refund number What comes back, in euro",
            DESTROYS,
        ),
        job(
            "move_booking",
            "Move a booking to another sailing of the same crossing.",
            _BOOKING + "\nsailing text Number of the new sailing, such as S-2211",
            "surcharge number What has to be paid in addition, in euro",
            WRITES,
        ),
        job(
            "add_passenger",
            "Add a passenger to a booking.",
            _BOOKING + "\nname text Full name of the passenger",
            "passengers names Names of all passengers now",
            WRITES,
        ),
        job(
            "remove_passenger",
            "Remove a passenger from a booking. What was paid for them comes back.",
            _BOOKING + "\nname text Full name of the passenger",
            "refund number What comes back, in euro",
            DESTROYS,
        ),
        job(
            "change_vehicle",
            "Change the vehicle of a booking, if the deck has room for its length.",
            _BOOKING
            + "\nvehicle text Registration of the vehicle\nlength number Length of the vehicle, in metres",
            "surcharge number What has to be paid in addition, in euro",
            WRITES,
        ),
        job(
            "list_bookings_of_sailing",
            "List the bookings of one sailing, by number.",
            "sailing text Number of the sailing, such as S-2210",
            _BOOKING + "\npassengers whole How many people travel",
            listed="bookings",
        ),
        job(
            "find_bookings_by_name",
            "Find bookings by the name of a passenger. Returns at most twenty.",
            "name text Full name, or its beginning",
            _BOOKING + "\nsailing text Number of the sailing",
            listed="bookings",
        ),
        job(
            "check_in",
            "Check in all passengers of a booking at the terminal.",
            _BOOKING,
            "boarding_group text Boarding group, such as B",
            WRITES,
        ),
        job(
            "get_boarding_pass",
            "Get the boarding pass of one passenger as a text to print.",
            _BOOKING + "\nname text Full name of the passenger",
            "boarding_pass text The text to print",
        ),
        job(
            "list_waiting_passengers",
            "List who waits for a place on a sailing, in order.",
            "sailing text Number of the sailing, such as S-2210",
            _BOOKING + "\nposition whole Position in the queue, from 1",
            listed="waiting",
        ),
        job(
            "join_waiting_list",
            "Put a booking on the waiting list of a full sailing.",
            _BOOKING + "\nsailing text Number of the sailing, such as S-2210",
            "position whole Position in the queue, from 1",
            WRITES,
        ),
        job(
            "get_refund_status",
            "Get whether the refund of a cancelled booking was paid out.",
            _BOOKING,
            """amount number Amount, in euro
            paid_on? date Day it was paid out, harbour time""",
        ),
        job(
            "issue_voucher",
            "Issue a voucher to a passenger after a cancelled sailing. Returns its code.",
            _BOOKING + '\nvalue number Value, in euro {"minimum": 5}',
            "voucher text Code of the voucher",
            WRITES,
        ),
        job(
            "redeem_voucher",
            "Redeem a voucher against a booking that is held.",
            _BOOKING + "\nvoucher text Code of the voucher",
            "left number What is left on the voucher, in euro",
            WRITES,
        ),
    ]
    if since(version, "3.1.0"):
        tools += [
            job(
                "get_sailing_load",
                "Get how full one sailing is, by people and by lane metres.",
                "sailing text Number of the sailing, such as S-2210",
                """people_percent number People, in percent
                lane_percent number Lane metres, in percent""",
            ),
            job(
                "list_group_bookings",
                "List the bookings of ten and more people between two days.",
                """from date First day, harbour time
                until date Last day, harbour time""",
                _BOOKING + "\npeople whole How many people travel",
                listed="bookings",
            ),
        ]
    return server(
        "bookings",
        version,
        tools,
        title="Bookings",
        instructions="Bookings of all crossings. Amounts are in euro; times are UTC, days are harbour days.",
        resources=[
            resource("bookings://conditions", "conditions", "The conditions of carriage.", "text/plain")
        ],
        templates=[template("bookings://sailing/{sailing}", "sailing", "One sailing with its load.")],
        prompts=[
            prompt("rebook-sailing", "Rebook all passengers of a cancelled sailing.", sailing="Its number")
        ],
    )


def passenger_notices(version: str) -> Declared:
    tools = [
        job(
            "publish_notice",
            "Publish a notice on the boards and in the app. Returns its number.",
            """terminal text Terminal, such as pellam
            words text The notice, at most 200 characters {"maxLength": 200}
            until moment When it disappears, UTC""",
            "notice text Number of the notice, such as N-402",
            WRITES,
        ),
        job(
            "list_notices",
            "List the notices that are shown at one terminal now.",
            "terminal text Terminal, such as pellam",
            """notice text Number of the notice
            words text The notice""",
            listed="notices",
        ),
        job(
            "withdraw_notice",
            "Withdraw a notice before its time.",
            "notice text Number of the notice, such as N-402",
            "withdrawn flag Whether it was shown until now",
            WRITES,
        ),
    ]
    if version == "1.0.1":
        tools[0]["inputSchema"]["properties"]["words"]["maxLength"] = 280
        tools[0]["inputSchema"]["properties"]["words"]["description"] = "The notice, at most 280 characters"
        boards = [f"board-{number:02}" for number in range(1, 73)]
        tools[0]["inputSchema"]["properties"]["board"] = text("One board alone", enum=boards)
    return server(
        "passenger-notices",
        version,
        tools,
        title="Passenger notices",
        instructions="" if version == "1.0.0" else "Call `find_terminal` first, then `publish_notice`.",
    )


def lost_property(version: str) -> Declared:
    tools = [
        job(
            "report_lost_item",
            "Report something that a passenger lost. Returns the number of the report.",
            """description text What was lost, in a sentence
            sailing? text Number of the sailing, such as S-2210
            contact text How to reach the owner, an address or a telephone number""",
            "report text Number of the report, such as L-0091",
            WRITES,
        ),
        job(
            "search_found_items",
            "Search what was found on board or ashore by words of its description.",
            """words text Words of the description
            from? date First day, harbour time""",
            """item text Number of the find, such as F-233
            description text What it is
            found_on date Day it was found, harbour time""",
            listed="items",
        ),
    ]
    if since(version, "1.1.0"):
        # Pasted from the tool above: it says "by its number", and takes none.
        tools.append(
            {
                **tools[1],
                "name": "get_found_item",
                "description": "Get one find by its number, with where it is kept and who may collect it.",
            }
        )
    return server("lost-property", version, tools, title="Lost property")


def vehicle_deck(version: str) -> Declared:
    tools = [
        job(
            "get_deck_plan",
            "Get the plan of a vessel's vehicle deck for one sailing: which lane holds what.",
            "sailing text Number of the sailing, such as S-2210",
            """lane whole Number of the lane, from 1
            used number Length in use, in metres
            free number Length that is free, in metres""",
            listed="lanes",
        ),
        job(
            "assign_lane",
            "Assign a vehicle to a lane. Assigning it again moves it.",
            """sailing text Number of the sailing, such as S-2210
            vehicle text Registration of the vehicle
            lane whole Number of the lane, from 1 {"minimum": 1}""",
            "free number Length that is left in the lane, in metres",
            WRITES,
        ),
        job(
            "list_heavy_vehicles",
            "List the vehicles of a sailing that weigh more than a limit.",
            """sailing text Number of the sailing, such as S-2210
            limit number Weight in kilograms {"minimum": 0}""",
            """vehicle text Registration of the vehicle
            weight number Weight in kilograms""",
            listed="vehicles",
        ),
        job(
            "check_stability",
            "Check whether the load of a sailing keeps the vessel stable.",
            "sailing text Number of the sailing, such as S-2210",
            """stable flag Whether it does
            list_degrees number List, in degrees, to starboard is positive""",
        ),
    ]
    if since(version, "1.1.0"):
        tools.append(
            job(
                "clear_lane",
                "Clear a lane: its vehicles are without a place until they are assigned again.",
                """sailing text Number of the sailing, such as S-2210
                lane whole Number of the lane, from 1 {"minimum": 1}""",
                "cleared whole How many vehicles lost their place",
                {},
            )
        )
        tools.append(
            job(
                "exportDeckPlan",
                "Export the plan of a vehicle deck as a drawing for the mate.",
                """sailing text Number of the sailing, such as S-2210
                style text How it is drawn, one of plain, shaded or outline""",
                "drawing text Address of the drawing",
            )
        )
    return server("vehicle-deck", version, tools, title="Vehicle deck")


SERVERS = {
    "fare-desk": fare_desk,
    "bookings": bookings,
    "passenger-notices": passenger_notices,
    "lost-property": lost_property,
    "vehicle-deck": vehicle_deck,
}
