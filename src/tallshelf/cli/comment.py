"""``tallshelf comment``: say something on a request, ask, or answer."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import comments_text
from tallshelf.core.errors import BadArgument

DESCRIPTION = """\
Say something on a request, perhaps on a place in one of its items. A question of a reviewer blocks
agreement until somebody answers it. Places are kept when another snapshot is handed in."""
EXAMPLES = """\
tallshelf comment 47 'The second sentence is about another tool.' --at tool:list_certificates/description
tallshelf comment 47 'Who may call this?' --question
tallshelf comment 47 'Harbour masters alone.' --answer 12"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("request", type=int, metavar="REQUEST", help="the request's number")
    parser.add_argument("text", metavar="TEXT")
    parser.add_argument(
        "--at", default="", metavar="PLACE", help="an item, such as tool:book_berth, and a place in it"
    )
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--question", action="store_true", help="block agreement until it is answered")
    what.add_argument(
        "--object", action="store_true", help="object, for a team that is told: blocks until it is answered"
    )
    what.add_argument("--answer", type=int, metavar="COMMENT", help="answer the comment of this number")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.answer is not None:
        if args.at:
            raise BadArgument("an answer stands where its question does", remedy="Leave --at out.")
        request_detail = shelf.answer_comment(args.request, args.answer, args.text)
    else:
        item, pointer = _place(args.at)
        request_detail = shelf.comment(
            args.request, args.text, question=args.question, objection=args.object, item=item, pointer=pointer
        )
    if args.format == "json":
        io.print_json(request_detail)
        return FINE
    io.print("\n".join(comments_text(request_detail, io.paint)))
    return FINE


def _place(text: str) -> tuple[str, str]:
    """Return the item and the pointer of a place, such as ``tool:book_berth/inputSchema``."""
    if not text:
        return "", ""
    if text == "server" or text.startswith("server/"):
        item, slash, rest = text.partition("/")
        return item, slash + rest
    kind, colon, name = text.partition(":")
    if not colon:
        kind, name = "tool", text
    if kind in ("resource", "template"):
        # Their names have slashes themselves; a pointer is set off by a space.
        name, _, pointer = name.partition(" ")
        return f"{kind}:{name}", pointer
    name, slash, rest = name.partition("/")
    return f"{kind}:{name}", slash + rest
