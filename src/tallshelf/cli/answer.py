"""``tallshelf answer``: agree to a request, send it back or decline it."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import request_text
from tallshelf.core.errors import BadArgument

DESCRIPTION = (
    "Answer a request at a desk you sit at. What you agree to is the release digest that is shown now."
)
EXAMPLES = """\
tallshelf answer 118 --agree
tallshelf answer 118 --send-back --note 'basin must stay optional'
tallshelf answer 118 --agree --digest 9f2c41aa0b1d        (refused when the request has moved on)
tallshelf answer 118 --agree --condition 'Bound the notes.' --owner tomas --due 2027-01-15
tallshelf answer 118 --agree --despite no-launch-record='a library only'
tallshelf answer 118 --assess                              (after something moved under it)
tallshelf answer 118 --take                                (shows others that you look at it)"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("request", type=int, metavar="REQUEST", help="the request's number")
    answer = parser.add_mutually_exclusive_group(required=True)
    for name, words in (
        ("agree", "agree to exactly these bytes"),
        ("send-back", "ask for another snapshot"),
        ("decline", "say no for good"),
    ):
        answer.add_argument(f"--{name}", dest="answer", action="store_const", const=name, help=words)
    answer.add_argument("--take", action="store_true", help="look at it; others see that")
    answer.add_argument("--hand-on", action="store_true", help="do not look at it any more")
    answer.add_argument("--assess", action="store_true", help="have it assessed anew, since something moved")
    parser.add_argument("--note", default="", help="why; needed unless you agree")
    parser.add_argument("--desk", default="", help="which desk, when you sit at several that are asked")
    condition = parser.add_argument_group("agreeing under a condition (a follow-up)")
    condition.add_argument("--condition", metavar="TEXT", help="what is to be done")
    condition.add_argument("--owner", metavar="USER", help="who does it")
    condition.add_argument("--due", metavar="DATE", help="by which day")
    parser.add_argument(
        "--despite",
        action="append",
        default=[],
        metavar="GATE=WHY",
        help="agree although this gate fails, and say why; once for each that does",
    )
    parser.add_argument("--digest", default="", help="the release digest you looked at (its start will do)")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.errors import InputsMoved

    shelf = io.shelf()
    conditions = _conditions(args)
    despite = _despite(args)
    if args.assess:
        return _show(shelf.reassess(args.request), args, io)
    if args.answer is None:
        return _show(shelf.take(args.request, hand_on=args.hand_on), args, io)
    now = shelf.request(args.request)
    digest = now["release_digest"]
    if not digest.removeprefix("sha256:").startswith(args.digest.removeprefix("sha256:")):
        raise InputsMoved(
            f"request {args.request} is about {digest}, not {args.digest}", remedy="Look at it again first."
        )
    request_detail = shelf.sign_off(
        args.request,
        args.answer,
        release_digest=digest,
        assessment_digest=now["assessment"]["digest"],
        note=args.note,
        desk=args.desk,
        conditions=conditions,
        despite=despite,
    )
    return _show(request_detail, args, io)


def _despite(args: argparse.Namespace) -> dict[str, str]:
    pairs = [one.partition("=") for one in args.despite]
    if any(not gate or not reason.strip() for gate, _, reason in pairs) or (pairs and args.answer != "agree"):
        raise BadArgument(
            "--despite goes with --agree, and names a gate with a reason",
            remedy="Such as --despite no-launch-record='a library only'.",
        )
    return {gate.strip(): reason.strip() for gate, _, reason in pairs}


def _conditions(args: argparse.Namespace) -> list[dict[str, str]]:
    given = (args.condition, args.owner, args.due)
    if not any(given):
        return []
    if not all(given) or args.answer != "agree":
        raise BadArgument("a condition goes with --agree, and has --condition, --owner and --due")
    return [{"text": args.condition, "owner": args.owner, "due": args.due}]


def _show(document: dict[str, Any], args: argparse.Namespace, io: IO) -> int:
    if args.format == "json":
        io.print_json(document)
        return 0
    io.print(request_text(document, io.paint))
    if document["may_publish"]:
        io.note(f"next: tallshelf publish {document['id']}")
    return 0
