"""``tallshelf known``: findings that were accepted for a server, so that only new ones count."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO

DESCRIPTION = """\
Say how many findings of a server are accepted as known, or propose to accept today's: all that the house
style says of its current release, but for those on safety. A second curator answers. They shrink with each
release that mends some, end where the text they are about moves, and never grow by themselves."""
EXAMPLES = """\
tallshelf known harbour-radio
tallshelf known harbour-radio --accept 'Written before there were rules; the next release mends it.'
tallshelf known harbour-radio --agree
tallshelf known harbour-radio --decline --note 'The next release is due on Monday.'"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("server", metavar="SERVER")
    act = parser.add_mutually_exclusive_group()
    act.add_argument("--accept", metavar="REASON", help="propose to accept today's findings, for this reason")
    act.add_argument("--agree", action="store_true", help="agree to what another curator proposed")
    act.add_argument("--decline", action="store_true", help="decline it")
    parser.add_argument("--note", default="", metavar="TEXT", help="why; needed to decline")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.errors import NotFound
    from tallshelf.core.reports import escape

    shelf = io.shelf()
    found = shelf.known(args.server)
    if args.accept is not None:
        found = shelf.propose_known(args.server, args.accept)
    elif args.agree or args.decline:
        if found["proposed"] is None:
            raise NotFound(f"nothing is proposed about {args.server}")
        answer = shelf.answer_known
        found = answer(found["proposed"]["id"], "agree" if args.agree else "decline", args.note)
    if args.format == "json":
        io.print_json(found)
        return FINE
    known, proposed = found["known"], found["proposed"]
    io.print(
        f"{known} finding{'' if known == 1 else 's'} of {args.server} {'is' if known == 1 else 'are'} known."
    )
    if proposed is not None:
        io.print(
            f"{escape(proposed['by'])} proposes to accept {proposed['findings']}: {escape(proposed['reason'])}"
        )
        io.note(f"next: another curator answers, by tallshelf known {args.server} --agree or --decline")
    else:
        io.note(f"next: tallshelf lint {args.server}")
    return FINE
