"""Pairs of tools as two teams might write them: the same job in other words, and look-alikes that are not.

Each side is ``name: description (parameters)``; a ``!`` before a parameter says that it is required.
"""

from __future__ import annotations

import re
from typing import Any

_SIDE = re.compile(r"(\S+): (.*?)(?: \(([^()]*)\))?$")


def tool(text: str) -> dict[str, Any]:
    """Read one side as an MCP tool."""
    found = _SIDE.fullmatch(text.strip())
    assert found, text
    name, description, members = found.groups()
    names = [one.strip() for one in (members or "").split(",") if one.strip()]
    schema: dict[str, Any] = {
        "type": "object",
        "properties": {one.lstrip("!"): {"type": "string"} for one in names},
    }
    if needed := [one[1:] for one in names if one.startswith("!")]:
        schema["required"] = needed
    return {"name": name, "description": description, "inputSchema": schema}


def pairs(text: str) -> list[tuple[dict[str, Any], dict[str, Any]]]:
    """Read pairs, one a line, with two bars between the sides."""
    lines = [line for line in text.strip().splitlines() if line.strip()]
    return [(tool(left), tool(right)) for left, _, right in (line.partition(" || ") for line in lines)]


SAME_JOB = pairs("""
find_crew_member: Find one crew member by staff number. (!staff_number) || lookup_crew_member: Look up a crew member by their staff number. (!staff_no)
get_tide_times: Get the times of high and low water at a port. (!port, !day) || fetch_tides: Fetch high and low water times for a port on one day. (!port, !date)
create_ticket: Create a ticket for the service desk. (!title, !body) || add_issue: Add a new issue at the service desk. (!title, !text)
delete_booking: Delete a booking by its number. (!booking_id) || remove_booking: Remove one booking, named by its number. (!booking_number)
list_vessels: List the vessels of the fleet. () || get_ships: Get all ships of the fleet. ()
send_message: Send a message to a channel. (!channel, !text) || post_message: Post a message into a channel. (!channel_id, !message)
search_documents: Search the documents of the archive by words. (!query, limit) || find_docs: Find documents in the archive that hold some words. (!q, max_results)
read_file: Read the text of a file. (!path) || get_file_contents: Get the contents of a file as text. (!file_path)
list_directory: List the files and folders in a directory. (!path) || list_folder: List what is in a folder: files and folders. (!folder)
create_folder: Create a folder, and those above it. (!path) || make_directory: Make a new directory with its parents. (!path)
update_contact: Update the contact of a customer. (!customer, !mail) || edit_customer_contact: Edit a customer's contact. (!customer_id, !email)
get_weather: Get the weather at a harbour now. (!harbour) || harbour_weather_get: Get the present weather at one harbour. (!harbour)
merge_pull_request: Merge a pull request. (!repository, !number) || merge_merge_request: Merge a merge request into its branch. (!repo, !id)
desk_get_fare: Get the fare of a crossing. (!route, !day) || get_fare: Get the fare for a crossing on one day. (!route, !date)
cancel_journey: Cancel a journey that was booked. (!journey) || cancel_trip: Cancel a booked trip. (!trip_id)
list_open_orders: List the open orders of a customer. (!customer) || get_open_orders: Get the orders of one customer that are open. (!customer_id)
convert_currency: Convert an amount from one currency to another. (!amount, !source, !target) || convert_money: Convert an amount of money between two currencies. (!amount, !from, !to)
take_photo: Take a photo with the bow camera. (!camera) || photo: Take a photo with one of the cameras. (!camera)
translate_text: Translate a text into another language. (!text, !language) || translate: Translate text into a language. (!text, !target_language)
run_query: Run a query against the database and return its rows. (!sql) || query_database: Run an SQL query on the database; returns rows. (!query)
list_user_groups: List the groups that a user belongs to. (!user) || get_groups_of_user: Get the groups a person belongs to. (!user_id)
add_comment: Add a comment to an issue. (!issue, !body) || create_issue_comment: Create a comment on an issue. (!issue_number, !text)
get_exchange_rate: Get the rate of exchange between two currencies. (!base, !quote) || exchange_rate_lookup: Look up the exchange rate of a currency pair. (!base, !quote)
download_report: Download a report as a file. (!report) || report_download: Download one report to a file. (!report_id)
""")

LOOK_ALIKES = pairs("""
list_crew: List the crew of a vessel. (!vessel) || list_berths: List the berths of a port. (!port)
create_booking: Create a booking for a crossing. (!crossing) || delete_booking: Delete a booking of a crossing. (!booking)
get_booking: Get one booking by its number. (!booking) || list_bookings: List the bookings of one day. (!day)
encode_message: Encode a message for the radio. (!text) || decode_message: Decode a message from the radio. (!text)
import_manifest: Import a manifest of freight. (!file) || export_manifest: Export a manifest of freight. (!file)
start_engine: Start an engine of a vessel. (!engine) || stop_engine: Stop an engine of a vessel. (!engine)
lock_cabin: Lock a cabin's door. (!cabin) || unlock_cabin: Unlock a cabin's door. (!cabin)
list_incoming_freight: List freight that comes in on a day. (!day) || list_outgoing_freight: List freight that goes out on a day. (!day)
get_first_departure: Get the first departure of a day. (!day) || get_last_departure: Get the last departure of a day. (!day)
create_issue: Create an issue in the tracker. (!title, body) || create_label: Create a label in the tracker. (!title, colour)
delete_message_reaction: Delete a reaction from a message. (!message, !reaction) || delete_message: Delete a message. (!message)
get_vessel: Get the particulars of a vessel. (!vessel) || get_vessel_position: Get where a vessel is now. (!vessel)
list_berths: List the berths of a port. (!port) || list_reserved_berths: List the berths of a port that somebody reserved. (!port)
approve_leave: Approve a leave of absence. (!leave) || decline_leave: Decline a leave of absence. (!leave)
update_fare: Update the fare of a route. (!route, !fare) || get_fare: Get the fare of a route. (!route)
assign_crew: Assign crew to a sailing. (!sailing, !crew) || unassign_crew: Take crew off a sailing. (!sailing, !crew)
upload_photo: Upload a photo of a vessel. (!file) || download_photo: Download a photo of a vessel. (!photo)
get_tide_times: Get the times of the tides. (!port) || get_train_times: Get the times of the trains. (!station)
add_watch: Add a watch to the roster. (!day) || edit_watch: Edit a watch of the roster. (!watch, !day)
list_issue_comments: List the comments of an issue. (!issue) || list_issues: List the issues of a project. (!project)
count_passengers: Count the passengers of a sailing. (!sailing) || list_passengers: List the passengers of a sailing. (!sailing)
get_min_depth: Get the smallest depth of a fairway. (!fairway) || get_max_depth: Get the largest depth of a fairway. (!fairway)
archive_document: Archive a document. (!document) || unarchive_document: Bring an archived document back. (!document)
search_parts: Search the spare parts by words. (!query) || search_papers: Search the papers by words. (!query)
create_branch: Create a branch of a repository. (!repository, !name) || protect_branch: Protect a branch of a repository. (!repository, !name)
read_file: Read the text of a file. (!path) || get_file_info: Get size, owner and times of a file. (!path)
set_cell_colour: Set the colour of a cell. (!sheet, !cell, !colour) || set_cell_format: Set the number format of a cell. (!sheet, !cell, !format)
mark_notice_read: Mark a notice as read. (!notice) || mark_all_notices_read: Mark all notices as read. ()
""")
