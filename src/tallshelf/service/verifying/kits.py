"""Kits, their locks and what they hold, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.entitlement import State
from tallshelf.core.errors import UNREADABLE
from tallshelf.core.kits import Lock, kit_from, lock_from
from tallshelf.service.kits.models import HeldItem, StoredKit, StoredRaise
from tallshelf.service.verifying.rows import Difference, compare


def differences(state: State) -> Iterator[Difference]:
    """Yield where kits, and what they hold, are not as told."""
    yield from compare("kit", _kits(), _told(state))
    yield from compare("proposal about the kit", _raises(), _told_raises(state))
    held: dict[int, set[tuple[str, str, str, str]]] = {}
    columns = ("kit", "server__slug", "release__version", "item", "item_digest")
    for kit, *one in HeldItem.objects.values_list(*columns):
        held.setdefault(kit, set()).add(tuple(one))
    for found in StoredKit.objects.select_related("lock"):
        wanted = (
            {
                (locked.server, locked.version, locked.item, locked.item_digest)
                for locked in _lock(found).items
            }
            if found.dropped_at is None
            else set()
        )
        if held.get(found.pk, set()) != wanted:
            yield Difference("kit: holds", f"kit {found.name} holds other items than its lock names")


def _kits() -> dict[str, dict[str, object]]:
    return {
        kit.name: {
            "team": kit.team.slug,
            "data_class": kit.data_class,
            "digest": _digest(kit),
            "lock": _lock(kit).digest,
            "named lock": kit.lock.digest if kit.lock else "",
            "dropped": kit.dropped_at is not None,
        }
        for kit in StoredKit.objects.select_related("team", "lock")
    }


def _raises() -> dict[str, dict[str, object]]:
    rows = StoredRaise.objects.filter(state="proposed").select_related("by")
    return {
        proposal.name: {
            "digest": proposal.digest,
            "data_class": proposal.data_class,
            "by": proposal.by.username,
        }
        for proposal in rows
    }


def _told_raises(state: State) -> dict[str, dict[str, object]]:
    return {
        name: {
            "digest": proposal.body["kit_digest"],
            "data_class": proposal.body["data_class"],
            "by": proposal.by,
        }
        for name, proposal in state.kit_raises.items()
    }


def _digest(kit: StoredKit) -> str:
    try:
        return kit_from(kit.document).digest
    except UNREADABLE as fault:
        return f"unreadable: {fault}"


def _lock(kit: StoredKit) -> Lock:
    try:
        return Lock() if kit.lock is None else lock_from(kit.lock.document)
    except UNREADABLE:
        return Lock()


def _told(state: State) -> dict[str, dict[str, object]]:
    return {
        kit.name: {
            "team": kit.team,
            "data_class": kit.data_class,
            "digest": kit.digest,
            "lock": kit.lock,
            "named lock": kit.lock,
            "dropped": kit.dropped,
        }
        for kit in state.kits.values()
    }
