"""``tallshelf waiver``: ask for exceptions to rules, grant them, list them and end them."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import parse_reference

DESCRIPTION = """\
Exceptions to rules of the house style: asked for by the owner team, granted by a curator or by a desk
that is asked about a release of the server, never by who asked; they end by a date."""
EXAMPLES = """\
tallshelf waiver ask harbour-radio#send_notice plain-http --until 2027-03-01 --reason 'The mast has no TLS.'
tallshelf waiver list --state asked
tallshelf waiver grant 12
tallshelf waiver refuse 12 --note 'Name the unit instead.'
tallshelf waiver end 12 --note 'Mended in 1.2.0.'"""

_STATES = ("asked", "granted", "refused", "ended", "expired")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    ask = acts.add_parser("ask", help="ask that a rule be set aside for an item")
    ask.add_argument(
        "reference", metavar="REFERENCE", help="server#item, or a server for what is about it as a whole"
    )
    ask.add_argument("rule", metavar="RULE")
    ask.add_argument(
        "--until",
        required=True,
        metavar="DATE",
        help="the last day, such as 2027-03-01; at most a year ahead",
    )
    ask.add_argument("--reason", required=True, metavar="TEXT")
    ask.add_argument(
        "--place", metavar="POINTER", help="one place in the item, such as /description; else anywhere in it"
    )
    options.add_format(ask)
    lists = acts.add_parser("list", help="list waivers, newest first")
    lists.add_argument("--server", default="", metavar="SLUG")
    lists.add_argument("--state", default="", choices=_STATES)
    lists.add_argument("--rule", default="", metavar="RULE")
    options.add_format(lists)
    options.add_answers(
        acts,
        ("grant", "grant one that was asked for"),
        ("refuse", "refuse one that was asked for; needs a note"),
        ("end", "end one early; needs a note"),
    )


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "list":
        return _list(list(shelf.waivers(server=args.server, state=args.state, rule=args.rule)), args, io)
    if args.act == "ask":
        place = parse_reference(args.reference)
        if place.file:
            raise BadArgument("a waiver is for a server in the catalog", remedy="Write server#item.")
        waiver = shelf.ask_waiver(
            place.server,
            args.rule,
            place.item or "server",
            args.reason,
            options.end_of_day(args.until),
            pointer=args.place,
        )
    else:
        waiver = shelf.answer_waiver(args.number, args.act, args.note)
    if args.format == "json":
        io.print_json(waiver)
        return FINE
    io.print(
        f"Waiver {waiver['id']} is {waiver['state']}: {waiver['rule']} at {waiver['server']}#{waiver['item']}."
    )
    if waiver["state"] == "asked":
        io.note(f"next: a curator, or a desk that is asked, runs tallshelf waiver grant {waiver['id']}")
    return FINE


def _list(rows: list[dict[str, Any]], args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, wrap

    if args.format == "json":
        io.print_json(rows)
        return FINE
    if not rows:
        io.print("There are none.")
        return FINE
    for number, row in enumerate(rows):
        mark = "*" if row["may_answer"] else " "
        head = f"{mark} {row['id']}  {row['state']}, until {day(row['until'])[:10]}  {io.paint.bold(row['rule'])}"
        io.print(("\n" if number else "") + head)
        io.print(f"     {escape(row['server'] + '#' + row['item'] + (row['pointer'] or ''))}")
        io.print(io.paint.dim(wrap(f"{row['reason']} ({row['asked_by']})", "     ")))
        if row["answer_note"]:
            io.print(io.paint.dim(wrap(f"{row['answer_note']} ({row['answered_by']})", "     ")))
    if any(row["may_answer"] for row in rows):
        io.note("* waits for you. next: tallshelf waiver grant NUMBER, or refuse NUMBER --note TEXT")
    return FINE
