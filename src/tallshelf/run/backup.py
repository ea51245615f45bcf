"""``tallshelf admin backup`` and ``restore``: the database as one file, and back."""

from __future__ import annotations

import argparse
import os
import sqlite3
import tarfile
from contextlib import closing
from pathlib import Path

from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, Conflict, NotFound
from tallshelf.core.reports import escape
from tallshelf.run.service_setup import migrate, prepare
from tallshelf.service import directory

_KEYS = ("secret.key", "ledger.key", "checkpoint.key", "tallshelf.toml")


def backup(args: argparse.Namespace, io: IO) -> int:
    """Copy the database while the service runs; the keys too, if they are asked for."""
    from django.conf import settings

    config = settings.CONFIG
    target = Path(args.file)
    keys = target.with_name(target.name + ".keys.tar")
    for path in (target, keys) if args.with_keys else (target,):
        if path.exists():
            raise Conflict(
                f"{path} exists already", remedy="Backups are never overwritten; choose another name."
            )
    if not target.parent.is_dir():
        raise BadArgument(f"{target.parent} is no directory")
    part = target.with_name(target.name + ".part")
    part.unlink(missing_ok=True)
    with closing(sqlite3.connect(config.database)) as source, closing(sqlite3.connect(part)) as copy:
        source.backup(copy)
    part.chmod(0o600)
    if args.with_keys:
        _keep_keys(config.data, keys)
    part.replace(target)
    kept = f"the keys are in {keys}" if args.with_keys else f"the key files in {config.data} are not in it"
    io.print(f"Backed up to {target}; {kept}.")
    return FINE


def _keep_keys(data: Path, target: Path) -> None:
    handle = os.open(target, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(handle, "wb") as out, tarfile.open(fileobj=out, mode="w") as kept:
        for name in _KEYS:
            if (data / name).exists():
                kept.add(data / name, name)


def restore(data: Path, source: Path, *, lose: bool, io: IO) -> int:
    """Put a backup in the place of the database, which nothing may be at work on.

    What was there stays beside it. Where acts would be lost they are listed, and ``lose`` must be said.
    """
    if not source.is_file():
        raise NotFound(f"there is no file {source}")
    os.umask(0o077)
    directory.have_alone(data)
    part = data / "tallshelf.sqlite3.part"
    _copy_sound(source, part)
    prepare(data)
    from tallshelf.service import restoring

    database = data / "tallshelf.sqlite3"
    loss = restoring.Loss()
    if database.exists():
        loss = restoring.loss(database, part)
        if loss.acts and not lose:
            part.unlink()
            for line in loss.told():
                io.print(f"  {escape(line)}")
            raise Conflict(
                f"{len(loss.acts)} acts that are here are not in {source}",
                remedy="Back up what is here first; then restore with --lose.",
            )
    kept = _kept_beside(database)
    restoring.note(data, loss)
    for leftover in ("-wal", "-shm"):
        database.with_name(database.name + leftover).unlink(missing_ok=True)
    part.replace(database)
    migrate()
    io.print(f"Restored {source} into {data}." + (f" What was there is in {kept.name}." if kept else ""))
    io.print("All tokens and sign-ins are ended." if restoring.finish() else _NOT_YET)
    io.note("next: tallshelf admin verify-ledger")
    return FINE


_NOT_YET = """\
It cannot be recorded yet, and nothing can be decided: put ledger.key of that service into the directory (for a backup
of before entries carried MACs run tallshelf admin key-ledger). Tokens and sign-ins are ended then."""


def _copy_sound(source: Path, part: Path) -> None:
    """Copy a backup that is one, and whole."""
    part.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(f"{source.absolute().as_uri()}?mode=ro", uri=True)) as backup:
            backup.execute("SELECT count(*) FROM ledger_entry").fetchone()
            (sound,) = backup.execute("PRAGMA integrity_check").fetchone()
            if sound != "ok":
                raise BadArgument(f"{source} is damaged: {sound}")
            with closing(sqlite3.connect(part)) as copy:
                backup.backup(copy)
    except sqlite3.DatabaseError as fault:
        part.unlink(missing_ok=True)
        raise BadArgument(f"{source} is no backup of a service: {fault}") from None


def _kept_beside(database: Path) -> Path | None:
    """Copy what is there to a name that none has yet, and return it."""
    if not database.exists():
        return None
    number = 1
    while (kept := database.with_name(f"tallshelf.before-restore-{number}.sqlite3")).exists():
        number += 1
    with closing(sqlite3.connect(database)) as old, closing(sqlite3.connect(kept)) as copy:
        old.backup(copy)
    return kept
