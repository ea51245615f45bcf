"""``tallshelf ledger``: who did what, and when; keeping it, and verifying what was kept."""

from __future__ import annotations

import argparse
from itertools import islice

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day, short
from tallshelf.core.errors import BadArgument

DESCRIPTION = """\
List the ledger, newest first; export it whole, with a signed checkpoint; or verify what was exported,
a proof (tallshelf show --proof) as well, without the service.

An export shows that nothing in it was edited. That its tail was not cut, or all of it written anew,
shows only against a checkpoint that was kept elsewhere."""
EXAMPLES = """\
tallshelf ledger
tallshelf ledger --subject berth-planner --most 200 --format json
tallshelf ledger export -o ledger.jsonl
tallshelf ledger checkpoint >> checkpoints.txt
tallshelf ledger verify ledger.jsonl --checkpoint kept.txt --key shelf.pem
tallshelf ledger verify proof.json"""


_MACHINE_SHOWN = 12
_LARGEST_PROOF = 200_000_000
"""Bytes: a proof may carry the whole chain."""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "act",
        nargs="?",
        default="list",
        choices=("list", "export", "verify", "checkpoint", "key"),
        help="what to do (list); key prints the public key",
    )
    parser.add_argument("file", nargs="?", metavar="FILE", help="verify: an export, or a proof")
    parser.add_argument("--subject", default="", help="a server, person or desk")
    parser.add_argument("--event", default="", help="one kind of event, such as release-published")
    parser.add_argument("--most", type=int, default=50, metavar="N", help="how many entries (50)")
    parser.add_argument("-o", "--output", metavar="FILE", help="export: where to")
    parser.add_argument("--checkpoint", metavar="FILE", help="verify: one that was kept elsewhere")
    parser.add_argument("--key", metavar="FILE", help="verify: a public key that was kept elsewhere")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    if args.act == "verify":
        return _verify(args, io)
    if args.act == "export":
        return _export(args, io)
    if args.act in ("checkpoint", "key"):
        io.print(io.shelf().checkpoint()[args.act].strip())
        return FINE
    return _list(args, io)


def _list(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    rows = list(islice(io.shelf().ledger(subject=args.subject, event=args.event), max(1, args.most)))
    if args.format == "json":
        io.print_json({"format": "tallshelf.ledger/1", "entries": rows})
        return FINE
    cells = [
        (
            str(row["number"]),
            day(row["at"]),
            row["event"],
            row["actor"],
            escape(str(row["body"].get("version") or row["body"].get("desk") or "")),
            escape(row["subject"]),
            short(row["hash"]),
        )
        for row in rows
    ]
    io.print(table(cells, ("no.", "at (UTC)", "event", "by", "", "about", "hash"), io.paint))
    return FINE


def _export(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.ledger import read_export

    if not args.output:
        raise BadArgument("say where to", remedy="Give -o FILE.")
    lines = list(io.shelf().export_ledger())
    export = read_export(lines)
    io.write_file(args.output, b"\n".join([*lines, b""]).decode("utf-8"))
    io.print(
        f"{args.output} holds {export.found.entries} entries, with a checkpoint by the key {export.key}."
    )
    io.note("keep it, or its last line, where the service cannot reach")
    return FINE


def _verify(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.ledger import read_checkpoint, read_export
    from tallshelf.core.snapshot import Limits, parse_json

    if not args.file:
        raise BadArgument("say what to verify", remedy="Give the file of an export or a proof.")
    content = io.read_bytes(args.file)
    key = io.read_bytes(args.key).decode("utf-8", "replace") if args.key else None
    if content.lstrip()[:1] == b"{" and b'"tallshelf.proof/' in content:
        return _verify_proof(parse_json(content, Limits(bytes=_LARGEST_PROOF)), key, io)
    if args.checkpoint and key is None:
        raise BadArgument("a checkpoint is verified by a key kept with it", remedy="Give --key as well.")
    kept = None
    if args.checkpoint and key is not None:
        kept = read_checkpoint(io.read_bytes(args.checkpoint).decode("utf-8", "replace"), key)
    export = read_export(content.splitlines(), key=key, kept=kept)
    if export.found.fault:
        io.print(f"It does not hold: {export.found.fault}. The {export.found.entries} entries before it do.")
        return GATE_FAILED
    io.print(f"It holds: {export.found.entries} entries up to {day(export.checkpoint.at)}.")
    io.print(f"signed by the key {export.key}{_whose(export.own_key)}")
    return FINE


def _verify_proof(document: dict[str, object], key: str | None, io: IO) -> int:
    from tallshelf.core.entitlement import verify_proof
    from tallshelf.core.reports import escape

    proved = verify_proof(document, key=key)
    if proved.faults:
        io.print(f"{io.paint.red('It does not hold')}: {escape(proved.release)}")
        for fault in proved.faults:
            io.print(f"  - {escape(fault)}")
        return GATE_FAILED
    io.print(
        f"{io.paint.bold(escape(proved.release))} was published on {day(proved.published_at)}, as these bytes."
    )
    for name, desk, at in proved.agreed:
        io.print(f"  {escape(name)} agreed at {escape(desk)} on {day(at)}")
    for name, gate, reason in proved.despite:
        io.print(f"  {escape(name)} agreed despite {gate}: {escape(reason)}")
    if not proved.agreed:
        io.print("  nobody agreed: it was adopted, or a rule approved it")
    if proved.entitled:
        io.print("Entitled: by the ledger everybody was entitled to what they did.")
        acts = proved.machine
        io.print(f"  {len(acts)} acts were done on the service's own machine, which no person answers for:")
        for act in acts[:_MACHINE_SHOWN]:
            io.print(f"    entry {escape(act)}")
        if len(acts) > _MACHINE_SHOWN:
            io.print(f"    and {len(acts) - _MACHINE_SHOWN} more")
    else:
        io.print("Entitlement not shown: for that the proof is asked for by who may read the ledger.")
    io.print(f"It was {proved.state} on {day(proved.at)}, when the ledger had {proved.head} entries.")
    io.print(f"signed by the key {proved.key}{_whose(proved.own_key)}")
    return FINE


def _whose(own: bool) -> str:
    return ", which the file brings itself: compare it with one you keep (--key)" if own else ""
