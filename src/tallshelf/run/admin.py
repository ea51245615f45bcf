"""``tallshelf admin``: set up, back up and verify a service, on its own machine."""

from __future__ import annotations

import argparse
from collections.abc import Callable, Iterable
from pathlib import Path

from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.run.backup import backup, restore
from tallshelf.run.service_setup import data_directory, migrate, prepare, require_service

DESCRIPTION = "Set up and look after a service. Runs on its machine, straight on its data directory."
EXAMPLES = """\
tallshelf admin init --steward pell
tallshelf admin add-user tomas --name 'Tomas Eide' --role submitter --team berths
tallshelf admin token ci-berths --scope check --scope submit --days 90
tallshelf admin adopt running-servers/
tallshelf admin backup /backups/shelf.sqlite3
tallshelf admin verify-ledger"""

_ADOPT = """\
Take in what a company runs today. DIR holds snapshots (tallshelf capture -o SLUG.json) and a
file owners.toml:

  [teams]
  crew = "Crew"

  [servers.crew-roster]          # the snapshot is crew-roster.json, or file = "..."
  team = "crew"
  contact = "crew@pellam.example"
  title = "Crew roster"          # these may be left out: title, version, scheme, data_class,
  data_class = "confidential"    # source_link, tags, and launch records

  [[servers.crew-roster.launch]]
  environment = "production"
  transport = "streamable-http"
  url = "https://roster.pellam.example/mcp"

All are adopted or none. They are published as adopted, not reviewed, and what the house style
says of them today is accepted as known; their next releases go through review."""

_ROLES = ("reader", "submitter", "curator", "steward", "ci")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--data", metavar="DIR", help="the data directory (TALLSHELF_DATA, else ./tallshelf-data)"
    )
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    init = acts.add_parser("init", help="make the database, the key files, the fallback desk and a steward")
    init.add_argument("--steward", required=True, metavar="NAME", help="account name of the first steward")
    team = acts.add_parser("add-team", help="add a team")
    team.add_argument("slug")
    team.add_argument("--title", required=True)
    user = acts.add_parser("add-user", help="add an account; prints its invitation once")
    user.add_argument("username")
    user.add_argument("--name", required=True, help="the person's name")
    user.add_argument("--role", required=True, choices=_ROLES)
    user.add_argument("--team", action="append", default=[], dest="teams")
    user.add_argument("--desk", action="append", default=[], dest="desks", help="seat them at this desk")
    invite = acts.add_parser("invite", help="let somebody choose a (new) password; prints the code once")
    invite.add_argument("username")
    for name, words in (("seat", "seat somebody at a desk"), ("unseat", "take somebody's seat away")):
        argument_parser = acts.add_parser(name, help=words)
        argument_parser.add_argument("desk")
        argument_parser.add_argument("username")
    acts.choices["seat"].add_argument("--lead", action="store_true", help="overdue requests rise to them")
    desk = acts.add_parser("add-desk", help="add a desk")
    desk.add_argument("slug")
    desk.add_argument("--title", required=True)
    token = acts.add_parser("token", help="make a token for an account; prints it once")
    token.add_argument("username")
    token.add_argument("--name", default="made by admin")
    token.add_argument("--scope", action="append", required=True, dest="scopes")
    token.add_argument("--days", type=int, default=90)
    for name, words in (
        ("backup", "copy the database, while the service runs"),
        ("restore", "put a backup back"),
    ):
        argument_parser = acts.add_parser(name, help=words)
        argument_parser.add_argument("file")
    acts.choices["backup"].add_argument(
        "--with-keys", action="store_true", help="the key files and settings too, in FILE.keys.tar"
    )
    acts.choices["restore"].add_argument(
        "--lose", action="store_true", help="although acts are lost that the backup does not know"
    )
    adopt = acts.add_parser(
        "adopt",
        help="take in the servers that run today, from a directory of snapshots",
        description=_ADOPT,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    adopt.add_argument("directory", metavar="DIR")
    purge = acts.add_parser("purge", help="remove the bytes of an item that should never have been stored")
    purge.add_argument("reference", help="server@version#item")
    purge.add_argument("--reason", required=True, metavar="TEXT")
    acts.add_parser("reindex", help="make the indexes for search and overlaps anew")
    change = acts.add_parser(
        "change-user", help="give somebody another role or other teams, or switch them off"
    )
    change.add_argument("username")
    change.add_argument("--role", choices=_ROLES)
    change.add_argument("--team", action="append", default=None, dest="teams", help="all that they belong to")
    switch = change.add_mutually_exclusive_group()
    switch.add_argument("--switch-off", dest="active", action="store_false", default=None)
    switch.add_argument("--switch-on", dest="active", action="store_true", default=None)
    acts.add_parser("key-ledger", help="key the chain of a backup of before entries carried MACs")
    verify = acts.add_parser(
        "verify-ledger",
        help="verify the ledger's chain, judge each act in it, and hold the tables against it; exits with 1 on faults",
    )
    verify.add_argument("--checkpoint", metavar="FILE", help="one that was kept elsewhere")
    verify.add_argument("--key", metavar="FILE", help="the public key of it (the service's own)")


def run(args: argparse.Namespace, io: IO) -> int:
    data = data_directory(args.data)
    if args.act == "restore":
        return restore(data, Path(args.file), lose=args.lose, io=io)
    if args.act != "init":
        require_service(data)
    prepare(data)
    migrate()
    return _ACTS[args.act](args, io)


def _init(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.routing import FALLBACK_DESK
    from tallshelf.service.ledger.keys import signing_key
    from tallshelf.service.people import accounts, actions, desks
    from tallshelf.service.people.models import Person

    if Person.objects.exists():
        raise Conflict("this service is set up already", remedy="Add accounts by tallshelf admin add-user.")
    _, code = accounts.add_account(actions.SETUP, args.steward, args.steward, "steward")
    desks.add_desk(actions.SETUP, FALLBACK_DESK, "Curators", owner_team_excluded=False)
    desks.add_desk(actions.SETUP, "security", "Security")
    signing_key()
    io.print(f"Set up, with the steward {args.steward}.")
    _tell_way_in(args.steward, code, io)
    io.note("next: tallshelf admin add-team and add-user, then tallshelf serve")
    return FINE


def _add_team(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.people import actions

    actions.add_team(actions.SETUP, args.slug, args.title)
    io.print(f"The team {args.slug} is there.")
    return FINE


def _add_user(args: argparse.Namespace, io: IO) -> int:
    from django.db import transaction

    from tallshelf.service.people import accounts, actions, desks

    with transaction.atomic():
        _, code = accounts.add_account(actions.SETUP, args.username, args.name, args.role, args.teams)
        for desk in args.desks:
            desks.seat_at_desk(actions.SETUP, desk, args.username)
    if args.role == "ci":
        io.print(f"The CI account {args.username} is there; it works by token only.")
        io.note(f"next: tallshelf admin token {args.username} --scope check --scope submit")
    else:
        io.print(f"The account {args.username} is there.")
        _tell_way_in(args.username, code, io)
    return FINE


def _invite(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.people import accounts, actions

    _tell_way_in(args.username, accounts.invite(actions.SETUP, args.username), io)
    return FINE


def _tell_way_in(username: str, code: str, io: IO) -> None:
    """Say how somebody signs in for the first time: by an invitation, or where there is none at the issuer."""
    if not code:
        io.print(f"{username} signs in at /oidc/begin of the service, as the issuer knows them.")
        return
    io.print(f"/invitation#{code}")
    io.note(f"the address, after the service's own, where {username} chooses a password within 7 days")


def _seat(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.people import actions, desks

    desks.seat_at_desk(actions.SETUP, args.desk, args.username, lead=args.lead)
    leads = " and leads it" if args.lead else ""
    io.print(f"{args.username} sits at the desk {args.desk}{leads}, for what is asked from now on.")
    return FINE


def _unseat(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.people import actions, desks

    desks.leave_desk(actions.SETUP, args.desk, args.username)
    io.print(f"{args.username} does not sit at the desk {args.desk} any more.")
    return FINE


def _add_desk(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.people import actions, desks

    desks.add_desk(actions.SETUP, args.slug, args.title)
    io.print(f"The desk {args.slug} is there.")
    return FINE


def _token(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.people import actions

    token, secret = actions.make_token(
        actions.SETUP, args.name, args.scopes, args.days, username=args.username
    )
    io.print(secret)
    io.note(f"a token of {args.username} until {token.expires_at:%Y-%m-%d}; it is shown this once")
    return FINE


def _verify_ledger(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.ledger import read_checkpoint
    from tallshelf.service.ledger.checkpoints import public
    from tallshelf.service.verifying import verify

    key = io.read_bytes(args.key).decode("utf-8", "replace") if args.key else public()
    kept = read_checkpoint(io.read_bytes(args.checkpoint).decode("utf-8"), key) if args.checkpoint else None
    report = verify(kept, _step("entries", io, every=1000))
    chain = report.chain
    if chain.fault:
        io.print(f"The ledger does not hold: {chain.fault}. The {chain.entries} entries before it do.")
        return GATE_FAILED
    against = f", which the checkpoint of {kept.at} agrees with" if kept else ""
    io.print(f"The ledger holds: {chain.entries} entries, the last {chain.head}{against}.")
    _tell_all(io, "Acts that nobody was entitled to:", report.refused)
    _tell_all(
        io, "What stands in the tables is not what it says, the first of each kind:", report.differences
    )
    _tell_all(io, "Entries that cannot be read:", report.unreadable)
    _tell_all(
        io,
        "Not told by older entries:",
        [f"{what}, {often} times" for what, often in report.not_told.items()],
    )
    if not report.holds:
        return GATE_FAILED
    io.print("Everybody was entitled to what they did, and all that decides is as it says.")
    if chain.keyed > 1:
        io.note(f"entries before {chain.keyed} carry no MAC, and were fixed by a checkpoint then")
    if not kept:
        io.note(
            "a cut tail or a rewritten chain shows only against a checkpoint kept elsewhere: --checkpoint FILE"
        )
    return FINE


def _tell_all(io: IO, head: str, rows: Iterable[str]) -> None:
    from tallshelf.core.reports import escape

    lines = [f"  - {escape(row)}" for row in rows]
    if lines:
        io.print("\n".join([head, *lines]))


def _key_ledger(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service import restoring
    from tallshelf.service.upgrading import key_chain

    done = key_chain()
    restoring.finish()
    io.print("The ledger is keyed from here on." if done else "The ledger is keyed already.")
    return FINE


def _change_user(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.people import accounts, actions

    wanted = {"role": args.role, "teams": args.teams, "active": args.active}
    changes = {name: value for name, value in wanted.items() if value is not None}
    if not changes:
        raise BadArgument("say what is to change", remedy="Give --role, --team, --switch-off or --switch-on.")
    person = accounts.change_account(actions.SETUP, args.username, changes)
    io.print(f"{person.username} is a {person.role}" + (", switched off." if not person.is_active else "."))
    io.note("recorded in the ledger as done on this machine")
    return FINE


def _purge(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.snapshot import parse_reference
    from tallshelf.service.people.actions import SETUP
    from tallshelf.service.purging import purge, shrink_database

    place = parse_reference(args.reference)
    if not (place.server and place.version and place.item):
        raise BadArgument("name one item of a release", remedy="Such as berth-planner@1.4.2#tool:book_berth.")
    releases = purge(SETUP, place.server, place.version, place.item, args.reason)
    shrink_database()
    io.print(f"The bytes of {place.item} are gone from {', '.join(releases)}.")
    io.note("within a minute a running service forgets what it compared and linted")
    io.note("backups, exports and what others downloaded still hold them; revoke what leaked")
    return FINE


def _adopt(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.run.adopt import adopt_directory

    return adopt_directory(Path(args.directory), io)


def _reindex(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.service.catalog import overlap, search

    io.print(f"Indexed {search.rebuild(_step('search', io))} servers.")
    io.print(f"Compared {overlap.compare_all(_step('overlaps', io))} servers.")
    return FINE


def _step(what: str, io: IO, every: int = 1) -> Callable[[int, int], None]:
    """Return what tells how far a job is, on a terminal only; of many steps not each."""

    def tell(done: int, of: int) -> None:
        if io.err.isatty() and (done % every == 0 or done == of):
            io.err.write(f"\r{what}: {done} of {of}" + ("\r\x1b[2K" if done == of else ""))
            io.err.flush()

    return tell


_ACTS = {
    "adopt": _adopt,
    "purge": _purge,
    "reindex": _reindex,
    "init": _init,
    "add-team": _add_team,
    "add-user": _add_user,
    "add-desk": _add_desk,
    "invite": _invite,
    "seat": _seat,
    "unseat": _unseat,
    "token": _token,
    "backup": backup,
    "verify-ledger": _verify_ledger,
    "key-ledger": _key_ledger,
    "change-user": _change_user,
}
