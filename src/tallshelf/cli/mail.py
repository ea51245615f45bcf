"""``tallshelf mail``: where you get mail, and how."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO

DESCRIPTION = """\
Say where you get mail. A code goes to the address, by which you confirm that it is yours; then what concerns
your teams and desks is mailed as it happens, or as one digest a day."""
EXAMPLES = """\
tallshelf mail show
tallshelf mail set ines@pellam.example
tallshelf mail confirm 4f1c0a9be2d87f35
tallshelf mail how digest
tallshelf mail none"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    options.add_format(acts.add_parser("show", help="show where you get mail"))
    named = acts.add_parser("set", help="name an address; a code goes there")
    named.add_argument("address", metavar="ADDRESS")
    options.add_format(named)
    confirm = acts.add_parser("confirm", help="confirm the address by its code")
    confirm.add_argument("code", metavar="CODE")
    options.add_format(confirm)
    how = acts.add_parser("how", help="choose how you are told of what concerns your teams and desks")
    how.add_argument("how", choices=("inbox", "mail", "digest"))
    options.add_format(how)
    options.add_format(acts.add_parser("none", help="get no mail any more"))


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape

    shelf = io.shelf()
    if args.act == "set":
        mail = shelf.set_mail(address=args.address)
    elif args.act == "confirm":
        mail = shelf.confirm_mail(args.code)
    elif args.act == "how":
        mail = shelf.set_mail(how=args.how)
    elif args.act == "none":
        mail = shelf.set_mail(address="")
    else:
        mail = shelf.mail()
    if args.format == "json":
        io.print_json(mail)
    elif not mail.address:
        io.print("You get no mail." + ("" if mail.sends else " This service sends none."))
    elif not mail.confirmed:
        io.print(f"A code is on its way to {escape(mail.address)}. Next: tallshelf mail confirm CODE")
    else:
        means = {
            "inbox": "in the inbox alone",
            "mail": "by mail as it happens",
            "digest": "by one mail a day",
        }
        io.print(f"{escape(mail.address)} is confirmed; you are told {means[mail.how]}.")
    return FINE
