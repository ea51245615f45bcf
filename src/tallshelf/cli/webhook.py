"""``tallshelf webhook``: where events are sent, and what became of them."""

from __future__ import annotations

import argparse
import itertools
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day

DESCRIPTION = """\
Have events sent to an address, as CloudEvents signed as Standard Webhooks says. It belongs to a team, whose
members keep it; the address must be one that the service's settings allow."""
EXAMPLES = """\
tallshelf webhook list
tallshelf webhook make --team crew https://hooks.pellam.example/shelf
tallshelf webhook make --team crew --about catalog --type release.published https://hooks.pellam.example/shelf
tallshelf webhook try 1
tallshelf webhook log 1
tallshelf webhook rotate 1
tallshelf webhook resend msg_4f1c0a9be2d87f354f1c0a9be2d8
tallshelf webhook end 1 --reason 'the receiver moved'"""
_MOST = 30


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    options.add_format(acts.add_parser("list", help="list the webhooks of your teams"))
    make = acts.add_parser("make", help="make a webhook; its secret is shown this once")
    make.add_argument("address", metavar="ADDRESS")
    make.add_argument("--team", required=True, metavar="TEAM")
    make.add_argument(
        "--about",
        choices=("team", "catalog"),
        default="team",
        help="what concerns the team (the default), or all that is published as well",
    )
    make.add_argument(
        "--type", action="append", default=[], dest="types", metavar="TYPE", help="only events of this type"
    )
    options.add_format(make)
    for name, told in (
        ("try", "send an event that nothing happened"),
        ("rotate", "give it another secret; the one before signs for a day as well"),
        ("log", "show what was sent, newest first"),
    ):
        act = acts.add_parser(name, help=told)
        act.add_argument("number", type=int, metavar="NUMBER")
        options.add_format(act)
    again = acts.add_parser("resend", help="send a message again, under its own name")
    again.add_argument("key", metavar="MESSAGE")
    options.add_format(again)
    end = acts.add_parser("end", help="end a webhook")
    end.add_argument("number", type=int, metavar="NUMBER")
    end.add_argument("--reason", required=True)
    options.add_format(end)


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "resend":
        shelf.resend(args.key)
        _say(args, io, {"key": args.key}, f"{args.key} is sent again.")
    elif args.act == "log":
        _log(args, io, list(itertools.islice(shelf.deliveries(args.number), _MOST)))
    elif args.act == "list":
        _list(args, io, shelf.webhooks())
    elif args.act == "end":
        _say(args, io, shelf.end_webhook(args.number, args.reason), f"Webhook {args.number} was ended.")
    elif args.act == "try":
        webhook = shelf.try_webhook(args.number)
        _say(args, io, webhook, f"An event is on its way. Next: tallshelf webhook log {args.number}")
    else:
        made = (
            shelf.rotate_webhook(args.number)
            if args.act == "rotate"
            else shelf.make_webhook(args.team, args.address, about=args.about, types=args.types)
        )
        _say(
            args,
            io,
            made,
            f"Webhook {made.id}. Its secret, shown this once:\n\n  {made.secret}\n\n"
            f"Next: tallshelf webhook try {made.id}",
        )
    return FINE


def _say(args: argparse.Namespace, io: IO, value: Any, text: str) -> None:
    if args.format == "json":
        io.print_json(value)
    else:
        io.print(text)


def _list(args: argparse.Namespace, io: IO, rows: list[Any]) -> None:
    from tallshelf.core.reports import escape, table

    if args.format == "json":
        io.print_json(rows)
        return
    if not rows:
        io.print("No team of yours has a webhook.")
        return
    cells = [(str(row.id), escape(row.team), row.about, escape(row.address), _standing(row)) for row in rows]
    io.print(table(cells, ("no.", "team", "about", "address", ""), io.paint))


def _standing(one: Any) -> str:
    if one.ended_at:
        return f"ended {day(one.ended_at)}"
    often = "once" if one.failures == 1 else f"{one.failures} times"
    told = [f"failed {often}" if one.failures else "works"]
    told += [f"{one.waiting} waiting"] if one.waiting else []
    told += [f"{one.lost} lost"] if one.lost else []
    return ", ".join(told)


def _log(args: argparse.Namespace, io: IO, rows: list[Any]) -> None:
    from tallshelf.core.reports import escape, table

    if args.format == "json":
        io.print_json(rows)
        return
    if not rows:
        io.print("Nothing was sent to it yet.")
        return
    cells = [
        (row.key, row.made_at[:16].replace("T", " "), row.words, row.state, escape(row.error or row.answer))
        for row in rows
    ]
    io.print(table(cells, ("message", "made (UTC)", "tells of", "state", "answer"), io.paint))
