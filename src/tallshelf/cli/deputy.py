"""``tallshelf deputy``: who signs in your place while you are away."""

from __future__ import annotations

import argparse
from datetime import UTC, date, datetime, time

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day
from tallshelf.core.errors import BadArgument

DESCRIPTION = """\
Name who signs in your place while you are away. A deputy signs only requests that were opened after
they began, and only where they have no part in it; one place at a desk counts once."""
EXAMPLES = """\
tallshelf deputy name edda --until 2027-01-07
tallshelf deputy list
tallshelf deputy end 2"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    name = acts.add_parser("name", help="name a deputy")
    name.add_argument("username", metavar="USER")
    name.add_argument("--from", dest="since", metavar="DATE", help="the first day (from now on)")
    name.add_argument("--until", required=True, metavar="DATE", help="the last day")
    options.add_format(name)
    options.add_format(acts.add_parser("list", help="list who signs in whose place"))
    end = acts.add_parser("end", help="end that somebody signs in your place")
    end.add_argument("number", type=int, metavar="NUMBER")
    options.add_format(end)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    shelf = io.shelf()
    if args.act == "end":
        shelf.end_deputy(args.number)
    elif args.act == "name":
        since = _start_of(args.since) if args.since else None
        shelf.name_deputy(args.username, options.end_of_day(args.until), since)
    rows = shelf.deputies()
    if args.format == "json":
        io.print_json(rows)
    elif not rows:
        io.print("Nobody signs in another's place.")
    else:
        cells = [
            (
                str(row["id"]),
                escape(row["deputy"]),
                escape(row["person"]),
                day(row["since"]),
                day(row["until"]),
            )
            for row in rows
        ]
        io.print(table(cells, ("no.", "signs", "for", "from (UTC)", "until"), io.paint))
    return FINE


def _start_of(text: str) -> str:
    try:
        return datetime.combine(date.fromisoformat(text), time(0), UTC).isoformat()
    except ValueError:
        raise BadArgument(f"{text!r} is no date", remedy="Write it as 2027-03-01.") from None
